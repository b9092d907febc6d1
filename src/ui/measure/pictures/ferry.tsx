import type { StepResult } from "@/core/run/result";
import type { Drill } from "@/core/drills/drill";
import { copyEnds, waitedFor } from "@/core/drills/copy-ends";
import { counted } from "@/core/units/counted";
import { formatDuration, formatPercent } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { useRates } from "../../frame/unit";

/** A copy as its two sides: how long the other one waited for each. */
export function Ferry({
  step,
  targets,
  direction,
}: {
  step: StepResult;
  targets: readonly string[];
  direction: Drill["direction"];
}) {
  const { said } = useRates();
  const copy = step.copy!;
  const { waitedForFromMs: from, waitedForToMs: to } = copy;
  const slow = waitedFor(from, to, step.ms);
  const ends = copyEnds(targets, direction);
  const both = ends.from !== null && ends.to !== null;
  const sides = [
    { role: "read from", place: ends.from, waited: from, slow: slow === "from" },
    { role: "written to", place: ends.to, waited: to, slow: slow === "to" },
  ];
  return (
    <div className="mt-2 space-y-3">
      <p className="text-base">
        {counted(copy.files, "file")}, {formatSize(step.bytes, 1000)} in {formatDuration(step.ms)}.{" "}
        {both &&
          (slow === "neither"
            ? "Neither side held the other up."
            : `The copy waited for ${slow === "from" ? "its source" : "its destination"}: that is the slow side.`)}
      </p>
      {both && (
        <div className="grid grid-cols-2 gap-4">
          {sides.map(({ role, place, waited, slow: isSlow }) => (
            <div key={role} className="border border-line p-3">
              <p className="text-[13px] text-secondary">{role}</p>
              <p className="font-medium [overflow-wrap:anywhere]">{place}</p>
              <div className="mt-2 h-4 border border-line" aria-hidden>
                <div
                  className="h-full bg-flow"
                  style={{ width: `${Math.min(100, (100 * waited) / Math.max(1, step.ms))}%` }}
                />
              </div>
              <p className="mt-1">
                waited for <b className="figure">{formatDuration(waited)}</b>,{" "}
                {formatPercent(Math.min(1, waited / Math.max(1, step.ms)))} of the time
                {isSlow && <b> · the slow side</b>}
              </p>
            </div>
          ))}
        </div>
      )}
      <ul className="space-y-1">
        {copy.perFileMs !== null && (
          <li>
            Each file costs <b className="figure">{formatDuration(copy.perFileMs)}</b> beside its
            bytes, which go at <b className="figure">{said(copy.perByteMBps!)}</b>.
          </li>
        )}
        {copy.fromMemory !== null && (
          <li>
            {formatPercent(copy.fromMemory)} of the source came from memory, by the kernel’s count.
          </li>
        )}
        {copy.verified > 0 && (
          <li>
            {copy.differing.length === 0
              ? `All ${copy.verified} files were read back and are the same as their source.`
              : `${counted(copy.differing.length, "file")} differ from their source: ${copy.differing.slice(0, 10).join(", ")}`}
          </li>
        )}
        {copy.kept && <li>The copy stays in {copy.kept}.</li>}
      </ul>
    </div>
  );
}
