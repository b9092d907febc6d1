import type { Part } from "../chain/part";
import { rigProblems, type Rig } from "../chain/rig";
import type { Direction } from "../units/rate";
import { linkProblems, narrowsOf, type Narrows } from "./narrows";

/** One part of a rig exchanged for another of its kind, and what that would change. MB/s. */
export interface Swap {
  out: Part;
  in: Part;
  /** The narrows after the change. */
  narrows: Narrows;
  /** Hard ceiling after the change less the one before. */
  gain: number;
  /** Price of the new part for each MB/s gained; null where it has no price. */
  pricePerMBps: number | null;
}

/**
 * Every change of one part, with what is on the shelf, that would widen the narrows of a rig; the
 * largest gain first, the cheaper first among equals.
 *
 * @param shelf parts at hand; those already in the rig are passed over
 */
export function swapsFor(rig: Rig, shelf: readonly Part[], direction: Direction): Swap[] {
  const now = narrowsOf(rig, direction)?.ceiling ?? 0;
  const used = new Set(rig.parts.map(({ id }) => id));
  const swaps = rig.parts.flatMap((out, place) =>
    shelf
      .filter((part) => part.kind === out.kind && !used.has(part.id))
      .flatMap((part): Swap[] => {
        const parts = rig.parts.with(place, part);
        if (rigProblems(parts).length > 0 || linkProblems({ parts }).length > 0) return [];
        const narrows = narrowsOf({ ...rig, parts }, direction);
        const gain = (narrows?.ceiling ?? 0) - now;
        if (!narrows || gain <= 0) return [];
        const pricePerMBps = part.price ? part.price.amount / gain : null;
        return [{ out, in: part, narrows, gain, pricePerMBps }];
      }),
  );
  const cost = (swap: Swap) => swap.in.price?.amount ?? Infinity;
  return swaps.toSorted((a, b) => b.gain - a.gain || cost(a) - cost(b));
}
