import { behaviourOf, type Part } from "../../chain/part";
import { replacePart, rigProblems, type Rig } from "../../chain/rig";
import type { Direction } from "../../units/rate";
import { linkProblems, bottleneckOf, type Bottleneck } from "../../chain/bottleneck";

/** One part of a rig exchanged for another of its kind, and what that would change. MB/s. */
export interface Swap {
  out: Part;
  in: Part;
  /** The bottleneck after the change. */
  bottleneck: Bottleneck;
  /** Hard ceiling after the change less the one before. */
  gain: number;
  /** Price of the new part for each MB/s gained; null where it has no price. */
  pricePerMBps: number | null;
}

/**
 * Every change of one part, with what is on the shelf, that would widen the bottleneck of a rig; the
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
  const now = bottleneckOf(rig, direction)?.ceiling ?? 0;
  const used = new Set([...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id));
  const gains = [...rig.parts, ...rig.other].flatMap((out) =>
    alikeOn(shelf)
      .filter(([first]) => first!.kind === out.kind)
      .flatMap((alike) => {
        const free = firstOf(alike, most, ({ id }) => !used.has(id));
        if (free.length === 0) return [];
        const gain = ceilingWith(replacePart(rig, out, free[0]!), direction) - now;
        return gain > 0 ? free.map((part) => ({ out, in: part, gain })) : [];
      }),
  );
  return gains
    .toSorted((a, b) => b.gain - a.gain || costOf(a.in) - costOf(b.in))
    .slice(0, most)
    .map((swap) => ({
      ...swap,
      bottleneck: bottleneckOf(replacePart(rig, swap.out, swap.in), direction)!,
      pricePerMBps: swap.in.price ? swap.in.price.amount / swap.gain : null,
    }));
}

/** The first few that will do, without looking at thousands more. */
function firstOf(parts: readonly Part[], most: number, will: (part: Part) => boolean): Part[] {
  const found: Part[] = [];
  for (const part of parts) {
    if (found.length >= most) break;
    if (will(part)) found.push(part);
  }
  return found;
}

const costOf = (part: Part) => part.price?.amount ?? Infinity;

const grouped = new WeakMap<readonly Part[], Part[][]>();

/**
 * A shelf by what its items do in a chain, the cheaper of each kind first: on a large one many are
 * alike, and what one of them would change, all would.
 */
function alikeOn(shelf: readonly Part[]): Part[][] {
  const known = grouped.get(shelf);
  if (known) return known;
  const groups = new Map<string, Part[]>();
  for (const part of shelf) {
    const key = behaviourOf(part);
    const group = groups.get(key);
    if (group) group.push(part);
    else groups.set(key, [part]);
  }
  const found = [...groups.values()].map((parts) =>
    parts.toSorted((a, b) => costOf(a) - costOf(b)),
  );
  grouped.set(shelf, found);
  return found;
}

/** The ceiling of a changed rig, MB/s; 0 where the change makes no rig. */
function ceilingWith(changed: Rig, direction: Direction): number {
  const sound = rigProblems(changed).length === 0 && linkProblems(changed).length === 0;
  return sound ? (bottleneckOf(changed, direction)?.ceiling ?? 0) : 0;
}
