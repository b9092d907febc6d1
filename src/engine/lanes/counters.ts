import { BUCKETS } from "@/core/stats/histogram";

/**
 * Memory that lanes and sampler share. Each lane writes only its own part; the sampler only reads,
 * so that nothing is posted or allocated per request. Places are those of native/walk.c.
 */

/** What the lanes are told to do; request times are kept while counting only. */
export const Phase = { wait: 0, leadIn: 1, counting: 2, stop: 3 } as const;

/** Places in `control`. */
export const PHASE = 0;
/** The next block to move; lanes take it by adding one. */
export const CURSOR = 1;
/** Lanes that are ready to go. */
export const READY = 2;
/** Lanes that have come to an end. */
export const ENDED = 3;
/** Error number of the first failed request, 0 while there is none. */
export const ERROR = 4;
/** Faults found in what was read back; those beyond the room for them are only counted. */
export const FAULTS = 5;
/** Requests under way, of a replay. */
export const IN_FLIGHT = 6;
const CONTROL_SLOTS = 8;

/** Places in a lane's totals, reading and writing. */
export const READ_BYTES = 0;
export const WRITTEN_BYTES = 1;
/** Finished requests, reading; writing in the place after it. */
export const READ_REQUESTS = 2;
export const MAX_READ_NS = 4;
export const MAX_WRITE_NS = 5;
export const TOTALS = 6;

/** Faults that are listed; each takes three numbers: kind, offset, bytes. */
export const MOST_FAULTS = 20_000;

export interface Counters {
  lanes: number;
  control: Int32Array<SharedArrayBuffer>;
  /** TOTALS for each lane. */
  totals: Float64Array<SharedArrayBuffer>;
  /** Two for each lane: reading, writing. */
  histograms: Int32Array<SharedArrayBuffer>;
  faults: Float64Array<SharedArrayBuffer>;
}

/**
 * Lays the shared memory out for a number of lanes, all zero.
 *
 * @param checked whether there has to be room for faults
 */
export function createCounters(lanes: number, checked: boolean): Counters {
  const faults = checked ? 3 * MOST_FAULTS : 3;
  return {
    lanes,
    control: new Int32Array(new SharedArrayBuffer(4 * CONTROL_SLOTS)),
    totals: new Float64Array(new SharedArrayBuffer(8 * TOTALS * lanes)),
    histograms: new Int32Array(new SharedArrayBuffer(4 * 2 * BUCKETS * lanes)),
    faults: new Float64Array(new SharedArrayBuffer(8 * faults)),
  };
}

/** What all lanes have moved so far. */
export interface Moved {
  read: number;
  written: number;
  requests: number;
}

/**
 * Adds the lanes up while they go on. Requests follow from the bytes, since a lane's two counts are not
 * read at the same instant.
 *
 * @param block bytes of every request
 */
export function movedBy({ totals, lanes }: Counters, block: number): Moved {
  let [read, written] = [0, 0];
  for (let lane = 0, at = 0; lane < lanes; lane++, at += TOTALS) {
    read += totals[at + READ_BYTES]!;
    written += totals[at + WRITTEN_BYTES]!;
  }
  return { read, written, requests: (read + written) / block };
}

/** Request times of one direction over all lanes. @returns counts by bucket, and the longest in ns */
export function timesOf({ histograms, totals, lanes }: Counters, way: 0 | 1) {
  const sum = new Float64Array(BUCKETS);
  let longest = 0;
  for (let lane = 0; lane < lanes; lane++) {
    const at = (2 * lane + way) * BUCKETS;
    for (let i = 0; i < BUCKETS; i++) sum[i] = sum[i]! + histograms[at + i]!;
    longest = Math.max(longest, totals[lane * TOTALS + MAX_READ_NS + way]!);
  }
  return { histogram: sum, longest };
}
