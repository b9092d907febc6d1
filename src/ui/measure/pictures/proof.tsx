import type { FaultKind, StepResult } from "@/core/run/result";
import { proofOf } from "@/core/drills/proof-faults";
import { counted } from "@/core/units/counted";
import { formatNumber } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";

const CELLS = 480;
/** Each kind has a letter, so that none depends on colour. */
const MARKS: Record<FaultKind, string> = { lost: "L", stale: "S", misdirected: "M", damaged: "D" };
const WORDS: Record<FaultKind, string> = {
  lost: "nothing of what was written",
  stale: "what had been there before",
  misdirected: "a block that belongs elsewhere",
  damaged: "changed bytes",
};

/** The medium as a map: every cell a stretch of it, marked where it did not keep what was written. */
export function Proof({ steps }: { steps: readonly StepResult[] }) {
  const { checkedBytes, faults, moreFaults } = proofOf(steps);
  const span = Math.max(
    1,
    ...steps.filter(({ kind }) => kind === "check").map(({ bytes }) => bytes),
  );
  const found = faults.length + moreFaults;
  const cell = span / CELLS;
  const marks = new Map(
    faults.flatMap(({ kind, offset, bytes }) => {
      const [from, to] = [Math.floor(offset / cell), Math.floor((offset + bytes - 1) / cell)];
      return Array.from({ length: to - from + 1 }, (_, i) => [from + i, kind] as const);
    }),
  );
  return (
    <div className="mt-2 space-y-2">
      <p className="text-base">
        {formatSize(checkedBytes, 1000)} were read back and checked:{" "}
        <b>
          {found === 0 ? "every block is as it was written." : `${counted(found, "fault")} found.`}
        </b>
      </p>
      <div
        role="img"
        aria-label={`Map of ${formatSize(span, 1000)}: ${found === 0 ? "no fault" : counted(found, "fault")}`}
        className="grid gap-px"
        style={{ gridTemplateColumns: "repeat(60, minmax(0, 1fr))" }}
      >
        {Array.from({ length: CELLS }, (_, i) => {
          const mark = marks.get(i);
          return (
            <span
              key={i}
              className={`h-4 text-center text-[11px] leading-4 font-bold ${mark ? "bg-ink text-paper" : "bg-bank"}`}
            >
              {mark ? MARKS[mark] : ""}
            </span>
          );
        })}
      </div>
      <p className="text-[13px] text-secondary">
        Each cell stands for {formatSize(Math.round(cell), 1000)}, from the beginning at the top
        left.
        {found > 0 &&
          ` ${Object.entries(MARKS)
            .map(([kind, mark]) => `${mark}: ${kind} (${WORDS[kind as FaultKind]})`)
            .join("; ")}.`}
      </p>
      {faults.length > 0 && (
        <table className="w-full">
          <thead>
            <tr>
              <th className={HEAD}>fault</th>
              <th className={HEAD}>found there</th>
              <th className={HEAD_RIGHT}>at byte</th>
              <th className={HEAD_RIGHT}>bytes</th>
            </tr>
          </thead>
          <tbody>
            {faults.slice(0, 200).map(({ kind, offset, bytes }) => (
              <tr key={`${kind}${offset}`}>
                <td className={`${CELL} font-medium`}>{kind}</td>
                <td className={CELL}>{WORDS[kind]}</td>
                <td className={FIGURE}>{formatNumber(offset)}</td>
                <td className={FIGURE}>{formatNumber(bytes)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {found > 200 && <p>and {formatNumber(found - 200)} more.</p>}
    </div>
  );
}
