import { BUCKETS } from "./histogram";

/**
 * Memory that lanes and sampler share. Each lane writes only its own part; the sampler only reads,
 * so that nothing is posted or allocated per request.
 */

/** What the lanes are told to do; request times are kept while counting only. */
export const Phase = { wait: 0, leadIn: 1, counting: 2, stop: 3 } as const;

/** Places in `control`. */
export const PHASE = 0;
/** The next block to move; lanes take it by adding one. */
export const CURSOR = 1;
/** Lanes that have opened their transfer. */
export const READY = 2;
/** Lanes that have come to an end. */
export const ENDED = 3;
/** Error number of the first failed request, 0 while there is none; and how many bytes it moved. */
export const ERROR = 4;
const CONTROL_SLOTS = 8;

/** Places in a lane's `totals`. */
export const BYTES = 0;
export const MAX_NS = 1;
const TOTAL_SLOTS = 8;

export interface Counters {
  control: Int32Array<SharedArrayBuffer>;
  totals: Float64Array<SharedArrayBuffer>[];
  histograms: Int32Array<SharedArrayBuffer>[];
}

/** Lays the shared memory out for a number of lanes, all zero. */
export function createCounters(lanes: number): Counters {
  return {
    control: new Int32Array(new SharedArrayBuffer(4 * CONTROL_SLOTS)),
    totals: Array.from(
      { length: lanes },
      () => new Float64Array(new SharedArrayBuffer(8 * TOTAL_SLOTS)),
    ),
    histograms: Array.from(
      { length: lanes },
      () => new Int32Array(new SharedArrayBuffer(4 * BUCKETS)),
    ),
  };
}

/** One figure summed over all lanes. */
export function sumOf(counters: Counters, place: number): number {
  return counters.totals.reduce((sum, totals) => sum + totals[place]!, 0);
}

/** The longest request of any lane, nanoseconds. */
export function longest(counters: Counters): number {
  return Math.max(0, ...counters.totals.map((totals) => totals[MAX_NS]!));
}
