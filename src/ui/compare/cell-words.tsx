import type { Question } from "@/core/compare/question";
import type { ShownCell } from "@/core/compare/shown";
import { formatPercent } from "@/core/units/number";
import { Tip } from "../controls/tip";

/** How a figure stands to the baseline: by form and word, never by colour alone. */
export function BaselineMark({ mark }: { mark: ShownCell["mark"] }) {
  if (mark === null) return null;
  const { sign, words } = MARKS[mark];
  return (
    <Tip text={words}>
      <span className="figure cursor-help" aria-label={words} tabIndex={0}>
        {sign}
      </span>
    </Tip>
  );
}

export const MARKS: Record<NonNullable<ShownCell["mark"]>, { sign: string; words: string }> = {
  above: { sign: "▲", words: "above the baseline, beyond the noise" },
  below: { sign: "▽", words: "below the baseline, beyond the noise" },
  same: { sign: "=", words: "the same as the baseline within the noise" },
  unknown: { sign: "?", words: "cannot be told from the baseline: one run has no interval" },
};

/** What a cell's rate is a share of, by what is asked; null where that is not known. */
export function shareOf(cell: ShownCell, { against }: Pick<Question, "against">): number | null {
  if (against === "ceiling") return cell.efficiency;
  if (against === "claim") return cell.claim ? cell.repeats.median / cell.claim.mbps : null;
  return cell.retention;
}

export const shareWords = (share: number | null): string =>
  share === null ? "—" : formatPercent(share);

/** A figure that was not measured. */
export const Absent = () => (
  <span className="text-secondary">
    <span aria-hidden>–</span>
    <span className="sr-only">not measured</span>
  </span>
);

/** Whether a drill's requests are so small that they are counted. @param block bytes */
export const isSmall = (block: number | null): boolean => block !== null && block <= 64 * 1024;
