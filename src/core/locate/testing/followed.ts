import {
  inseparable,
  locate,
  placesOf,
  type Located,
  type Observation,
  type Place,
} from "../locate";
import type { MadeBench } from "./made-bench";

/** How following the next swap went on one bench. */
export interface Followed {
  cause: string;
  seed: number;
  /** Runs after the first one. */
  swaps: number;
  /** Places that could be suspected at first: parts, pairings, conditions, what the ledger may limit, nothing of these. */
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
  let [explanations, suspects] = [0, 0];
  for (;;) {
    const found = locate(seen, bench.shelf, { of: (one) => one === seen[0] })[0]!;
    const right = topIsRight(found, bench);
    if (swaps === 0) {
      explanations = found.explanations.length;
      suspects = found.trial.sites.length + found.trial.ledger.by.length + 1;
    }
    const [named] = placesOf(found.explanations);
    said.push({ probability: named?.probability ?? 0, right: holds(named, bench) });
    // The bench knows one drill.
    const next = found.nextSwaps.find(({ kind }) => kind !== "drill");
    if (found.settled || !next || swaps >= MOST_SWAPS) {
      return {
        cause: bench.cause,
        seed: bench.seed,
        swaps,
        settled: found.settled,
        right,
        said,
        suspects,
        explanations,
        ms: performance.now() - began,
      };
    }
    seen.push(bench.measure({ ...next.rig, id: `swap-${swaps}` }, next.kind === "temperature"));
    swaps++;
  }
}

/** Whether the truth is among what is likeliest, as far as any run on the shelf can separate it. */
const topIsRight = ({ explanations }: Located, bench: MadeBench): boolean =>
  holds(inseparable(explanations)[0], bench);

/** Whether the truth is at one of the places that stand together. */
const holds = (place: Place | undefined, { right }: MadeBench): boolean =>
  place?.explanations.some(({ at }) => right(at)) ?? false;
