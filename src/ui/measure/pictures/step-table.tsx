import { iopsOf, unsureBy } from "@/core/drills/kind";
import type { StepResult } from "@/core/run/result";
import { formatMicroseconds, formatNumber, formatPercent } from "@/core/units/number";
import { useRates } from "../../frame/unit";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";

/** The exact values of a drill's steps. */
export function StepTable({
  name,
  steps,
  label,
}: {
  /** What tells the steps apart. */
  name: string;
  steps: readonly StepResult[];
  label: (step: StepResult) => string;
}) {
  const { unit, rate } = useRates();
  return (
    <table className="mt-2 w-full">
      <thead>
        <tr>
          <th className={HEAD}>{name}</th>
          <th className={HEAD_RIGHT}>{unit}</th>
          <th className={HEAD_RIGHT}>requests a second</th>
          <th className={HEAD_RIGHT}>p50</th>
          <th className={HEAD_RIGHT}>p99</th>
          <th className={HEAD_RIGHT}>longest</th>
        </tr>
      </thead>
      <tbody>
        {steps.map((step, i) => (
          <tr key={i}>
            <td className={`${CELL} figure`}>{label(step)}</td>
            <td className={`${FIGURE} font-semibold`}>
              {rate(step.meanMBps)}
              <Unsure step={step} />
            </td>
            <td className={FIGURE}>{formatNumber(iopsOf(step))}</td>
            <td className={FIGURE}>{formatMicroseconds(step.latencyUs.p50)}</td>
            <td className={FIGURE}>{formatMicroseconds(step.latencyUs.p99)}</td>
            <td className={FIGURE}>{formatMicroseconds(step.latencyUs.max)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** "± 20 %": few requests make a rate coarse. */
function Unsure({ step }: { step: StepResult }) {
  const share = unsureBy(step);
  if (share === null) return null;
  return (
    <span
      className="font-normal text-secondary"
      title={`${step.requests} requests ended in the counted time.`}
    >
      {` ± ${formatPercent(share)}`}
    </span>
  );
}
