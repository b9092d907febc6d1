import { nameNarrows } from "@/core/answer/wording";
import type { Swap } from "@/core/locate/swap";
import { formatNumber, formatRate } from "@/core/units/number";
import { CELL, HEAD } from "../controls/table";

/** What one other part from the shelf would change in one direction, and what each MB/s of it costs. */
export function SwapList({ swaps, doing }: { swaps: Swap[]; doing: "reading" | "writing" }) {
  const [best] = swaps;
  if (!best) {
    return (
      <p className="mt-2 text-secondary">
        No single other part on the shelf would widen its narrows {doing}.
      </p>
    );
  }
  return (
    <details className="mt-2">
      <summary>
        Change one part: {best.out.name} for {best.in.name} would allow{" "}
        <span className="figure">{formatRate(best.narrows.ceiling)}</span> MB/s {doing}
      </summary>
      <table className="mt-1 w-full text-sm">
        <thead>
          <tr>
            <th className={HEAD}>take out</th>
            <th className={HEAD}>put in</th>
            <th className={`${HEAD} text-right`}>ceiling then, MB/s</th>
            <th className={`${HEAD} text-right`}>gain</th>
            <th className={`${HEAD} text-right`}>price</th>
            <th className={`${HEAD} text-right`}>price for 100 MB/s</th>
            <th className={HEAD}>next narrows</th>
          </tr>
        </thead>
        <tbody>
          {swaps.map((swap) => (
            <tr key={swap.out.id + swap.in.id}>
              <td className={CELL}>{swap.out.name}</td>
              <td className={CELL}>{swap.in.name}</td>
              <td className={`${CELL} figure text-right`}>{formatRate(swap.narrows.ceiling)}</td>
              <td className={`${CELL} figure text-right`}>+{formatRate(swap.gain)}</td>
              <td className={`${CELL} figure text-right`}>
                {swap.in.price && `${swap.in.price.amount} ${swap.in.price.currency}`}
              </td>
              <td className={`${CELL} figure text-right`}>
                {swap.pricePerMBps !== null &&
                  `${formatNumber(swap.pricePerMBps * 100, 2)} ${swap.in.price!.currency}`}
              </td>
              <td className={CELL}>
                {nameNarrows(swap.narrows)
                  .map(({ text }) => text)
                  .join("")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
