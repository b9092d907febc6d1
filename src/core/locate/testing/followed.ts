import { locate, placesOf, type Located, type Observation } from "../locate";
import { sitesOf } from "../site";
import type { Hidden, MadeBench } from "./made-bench";

/** How following the next swap went on one bench. */
export interface Followed {
  cause: Hidden;
  seed: number;
  /** Runs after the first one. */
  swaps: number;
  /** Places that could be suspected at first. */
  suspects: number;
  /** Explanations at first: kinds of cause at these places. */
  explanations: number;
  settled: boolean;
  /** Whether what was named first in the end is the hidden cause, or cannot be told from it. */
  right: boolean;
  /** Each probability of a place that was named, and whether it was right: all along the way. */
  said: { probability: number; right: boolean }[];
  ms: number;
}

/** Runs after which the following ends. */
const MOST_SWAPS = 14;

/** Starts from the slow rig alone and follows the next swap until one place passes 95 %. */
export function follow(bench: MadeBench): Followed {
  const seen: Observation[] = [bench.measure(bench.slow)];
  const said: Followed["said"] = [];
  const began = performance.now();
  let swaps = 0;
  let explanations = 0;
  for (;;) {
    const found = locate(seen, bench.shelf, { of: ({ rig }) => rig === bench.slow })[0]!;
    const right = topIsRight(found, bench);
    if (swaps === 0) explanations = found.explanations.length;
    said.push({ probability: placesOf(found.explanations)[0]?.probability ?? 0, right });
    const next = found.nextSwaps[0];
    if (found.settled || !next || swaps >= MOST_SWAPS) {
      return {
        ...{ cause: bench.cause, seed: bench.seed, swaps, settled: found.settled, right, said },
        suspects: sitesOf(bench.slow).length + 1,
        explanations,
        ms: performance.now() - began,
      };
    }
    seen.push(bench.measure({ ...next.rig, id: `swap-${swaps}` }));
    swaps++;
  }
}

const topIsRight = ({ explanations }: Located, { right }: MadeBench): boolean =>
  placesOf(explanations)[0]?.explanations.some(({ at }) => right(at)) ?? false;
