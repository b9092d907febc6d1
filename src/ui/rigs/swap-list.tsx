import { nameNarrows } from "@/core/answer/wording";
import type { Part } from "@/core/chain/part";
import type { Rig } from "@/core/chain/rig";
import { swapsFor } from "@/core/locate/swap";
import { formatNumber, formatRate } from "@/core/units/number";

const HEAD = "border-b border-line px-2 py-0.5 text-left text-[13px] font-medium text-secondary";
const CELL = "border-b border-line px-2 py-1 align-baseline";

/** As many as fit without burying the rig; the rest gain less. */
const MOST = 6;

/** What one other part from the shelf would change, reading, and what each MB/s of it costs. */
export function SwapList({ rig, shelf }: { rig: Rig; shelf: Part[] }) {
  const swaps = swapsFor(rig, shelf, "read").slice(0, MOST);
  if (swaps.length === 0) {
    return (
      <p className="mt-2 text-secondary">
        No single other part on the shelf would widen its narrows.
      </p>
    );
  }
  return (
    <details className="mt-2">
      <summary>
        Change one part: {swaps[0]!.out.name} for {swaps[0]!.in.name} would allow{" "}
        <span className="figure">{formatRate(swaps[0]!.narrows.ceiling)}</span> MB/s reading
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
