import type { Part } from "../chain/part";
import { replacePart, rigProblems, type Rig } from "../chain/rig";
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
 * @param most how many to name
 */
export function swapsFor(
  rig: Rig,
  shelf: readonly Part[],
  direction: Direction,
  most = Infinity,
): Swap[] {
  const now = narrowsOf(rig, direction)?.ceiling ?? 0;
  const used = new Set([...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id));
  const gains = [...rig.parts, ...rig.other].flatMap((out) => {
    // On a large shelf many items are alike; what one of them would change, all would.
    const known = new Map<string, number>();
    return shelf
      .filter((part) => part.kind === out.kind && !used.has(part.id))
      .map((part) => {
        const alike = JSON.stringify([part.connectors, part.limits]);
        const gain = known.get(alike) ?? ceilingWith(replacePart(rig, out, part), direction) - now;
        known.set(alike, gain);
        return { out, in: part, gain };
      });
  });
  const cost = (swap: { in: Part }) => swap.in.price?.amount ?? Infinity;
  return gains
    .filter(({ gain }) => gain > 0)
    .toSorted((a, b) => b.gain - a.gain || cost(a) - cost(b))
    .slice(0, most)
    .map((swap) => ({
      ...swap,
      narrows: narrowsOf(replacePart(rig, swap.out, swap.in), direction)!,
      pricePerMBps: swap.in.price ? swap.in.price.amount / swap.gain : null,
    }));
}

/** The ceiling of a changed rig, MB/s; 0 where the change makes no rig. */
function ceilingWith(changed: Rig, direction: Direction): number {
  const sound = rigProblems(changed).length === 0 && linkProblems(changed).length === 0;
  return sound ? (narrowsOf(changed, direction)?.ceiling ?? 0) : 0;
}
