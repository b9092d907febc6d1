import { nameBottleneck } from "@/core/chain/wording";
import type { Swap } from "@/core/locate/steps/swap";
import { formatNumber } from "@/core/units/number";
import { Fold } from "../controls/fold";
import { useRates } from "../frame/unit";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

/** What one other part from the shelf would change in one direction, and what each MB/s of it costs. */
export function SwapList({ swaps, doing }: { swaps: Swap[]; doing: "reading" | "writing" }) {
  const { unit, rate } = useRates();
  const [best] = swaps;
  if (!best) {
    return (
      <p className="mt-2 text-secondary">
        No single other part on the shelf would widen its bottleneck {doing}.
      </p>
    );
  }
  return (
    <Fold
      className="mt-2"
      summary={
        <>
          Change one part: {best.out.name} for {best.in.name} would allow{" "}
          <span className="figure">{rate(best.bottleneck.ceiling)}</span> {unit} {doing}
        </>
      }
    >
      <table className="mt-1 w-full text-sm">
        <thead>
          <tr>
            <th className={HEAD}>take out</th>
            <th className={HEAD}>put in</th>
            <th className={HEAD_RIGHT}>ceiling then, {unit}</th>
            <th className={HEAD_RIGHT}>gain</th>
            <th className={HEAD_RIGHT}>price</th>
            <th className={HEAD_RIGHT}>price for 100 MB/s</th>
            <th className={HEAD}>next bottleneck</th>
          </tr>
        </thead>
        <tbody>
          {swaps.map((swap) => (
            <tr key={swap.out.id + swap.in.id}>
              <td className={CELL}>{swap.out.name}</td>
              <td className={CELL}>{swap.in.name}</td>
              <td className={FIGURE}>{rate(swap.bottleneck.ceiling)}</td>
              <td className={FIGURE}>+{rate(swap.gain)}</td>
              <td className={FIGURE}>
                {swap.in.price && `${swap.in.price.amount} ${swap.in.price.currency}`}
              </td>
              <td className={FIGURE}>
                {swap.pricePerMBps !== null &&
                  `${formatNumber(swap.pricePerMBps * 100, 2)} ${swap.in.price!.currency}`}
              </td>
              <td className={CELL}>
                {nameBottleneck(swap.bottleneck)
                  .map(({ text }) => text)
                  .join("")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Fold>
  );
}
