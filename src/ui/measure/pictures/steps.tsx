import type { StepResult } from "@/core/run/result";
import { formatDuration } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { useRates } from "../../frame/unit";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";

const nameOf = ({ label }: StepResult): string =>
  label.name ??
  (label.restSeconds === undefined
    ? "step"
    : label.restSeconds === 0
      ? "first fill"
      : `after ${label.restSeconds} s of rest`);

/** Writing is hatched everywhere. */
const HATCH = "repeating-linear-gradient(-45deg, var(--flow) 0 4px, var(--sheet) 4px 6px)";

/** A drill of several steps, one after another, each with its rate as a bar. */
export function Steps({ steps }: { steps: readonly StepResult[] }) {
  const { unit, rate } = useRates();
  const counted = steps.filter(({ kind }) => kind !== "rest");
  const most = Math.max(...counted.map(({ meanMBps }) => meanMBps), 1e-9);
  return (
    <table className="mt-2 w-full">
      <thead>
        <tr>
          <th className={HEAD}>step</th>
          <th className={`${HEAD} w-1/3`}>
            <span className="sr-only">as a bar</span>
          </th>
          <th className={HEAD_RIGHT}>{unit}</th>
          <th className={HEAD_RIGHT}>burst</th>
          <th className={HEAD_RIGHT}>bytes</th>
          <th className={HEAD_RIGHT}>before the drop</th>
          <th className={HEAD_RIGHT}>time</th>
        </tr>
      </thead>
      <tbody>
        {counted.map((step, i) => (
          <tr key={i}>
            <td className={CELL}>{nameOf(step)}</td>
            <td className={CELL} aria-hidden>
              <div
                className="h-3"
                style={{
                  width: `${(100 * step.meanMBps) / most}%`,
                  background: step.written > 0 ? HATCH : "var(--flow)",
                }}
              />
            </td>
            <td className={`${FIGURE} font-semibold`}>{rate(step.meanMBps)}</td>
            <td className={FIGURE}>{rate(step.burstMBps)}</td>
            <td className={FIGURE}>{formatSize(step.bytes, 1000)}</td>
            <td className={FIGURE}>
              {step.edgeBytes === null ? "—" : formatSize(step.edgeBytes, 1000)}
            </td>
            <td className={FIGURE}>{formatDuration(step.ms)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
