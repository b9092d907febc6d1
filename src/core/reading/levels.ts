import { plainSample } from "../run/step";
import type { Moment } from "../trace/curve";
import { readTrace } from "./read";

/** What a trace of one flow shows, rates in MB/s. */
export interface Levels {
  /** The best five seconds, or the whole where it is shorter. */
  burst: number;
  /** The mean after the last lasting change of level; of the whole where there is none. */
  sustained: number;
  /** Bytes moved before the first lasting drop; null where there is none. */
  edgeBytes: number | null;
  /** Whether it stood still or dipped for a moment. */
  interrupted: boolean;
}

const INTERRUPTIONS: readonly string[] = ["stall", "dip", "dips"];

/**
 * Burst, sustained rate and first lasting drop of a flow of which no more is known than what moved
 * when; what the drop comes from is not asked.
 *
 * @param moments in order of time
 */
export function levelsOf(moments: readonly Moment[]): Levels {
  let from = 0;
  const samples = moments.map(({ ms, bytes }) => {
    const sample = plainSample(from, ms, bytes, true);
    from = ms;
    return sample;
  });
  const { burstMBps, sustainedMBps, cacheEdge, marks } = readTrace({ samples });
  return {
    burst: burstMBps,
    sustained: sustainedMBps,
    edgeBytes: cacheEdge?.bytes ?? null,
    interrupted: marks.some(({ name }) => INTERRUPTIONS.includes(name)),
  };
}
