import type { Posterior } from "./posterior";
import { drawLimits } from "./fault-set";

/**
 * One way the bench may be, among those that explain what was seen: the limits of its faulty sites.
 * A few hundred of them stand for all, each with its weight.
 */
export interface Draw {
  weight: number;
  /** Place of the grid, by number of the site; what is not in it carries all. */
  limits: ReadonlyMap<number, number>;
}

/** Draws for each set of faults. */
const DRAWS = 6;
const MOST_SETS = 60;
/** Numbers from 0 to 1 that lie evenly however many are taken (multiples of the golden ratio). */
const EVEN = Array.from({ length: DRAWS }, (_, draw) =>
  Array.from({ length: 6 }, (__, step) => ((draw + 0.5) / DRAWS + step * 0.618_034) % 1),
);

/** Draws that stand for a posterior; the same for the same one. */
export function drawsOf({ sets, bench }: Posterior): Draw[] {
  const chosen = sets.slice(0, MOST_SETS);
  const total = chosen.reduce((sum, { probability }) => sum + probability, 0);
  return chosen.flatMap(({ sites, probability }) => {
    const share = probability / total;
    if (sites.length === 0) return [{ weight: share, limits: new Map<number, number>() }];
    return drawLimits(bench, sites, EVEN).map((limits) => ({ weight: share / DRAWS, limits }));
  });
}
