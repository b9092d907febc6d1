import type { Sample } from "../run/result";
import { MB } from "../units/rate";
import { levelsOf } from "./levels";
import { meanRate } from "../trace/rates";
import { thinned } from "../trace/thin";

/** How a step that is going on stands. */
export interface Now {
  /** Rate of the last second, MB/s. */
  rate: number;
  /** Mean since the step began, MB/s. */
  mean: number;
  /** Mean of the last five seconds, MB/s: long enough for bursts to even out. */
  recent: number;
  /** Mean since the level last changed for good, MB/s. */
  sustained: number;
  /** Requests a second, of the last second. */
  iops: number;
  /** Mean time of a request over the last second, µs; null where it does not follow. */
  requestUs: number | null;
}

const SECOND = 1000;
const RECENT = 5 * SECOND;
const ENOUGH = 400;

/**
 * How a step stands by its samples so far.
 *
 * The mean time of a request follows from those in flight and those that end a second (Little, "A proof
 * for the queuing formula L = λW", Operations Research 9, 1961), which needs no request to be timed.
 *
 * @param samples of the step, in order of time; of several targets together
 * @param depth requests in flight, always so many; null where that is not so
 * @returns null before the first sample
 */
export function nowOf(samples: readonly Sample[], depth: number | null): Now | null {
  const [first] = samples;
  const end = samples.at(-1)?.ms;
  if (!first || end === undefined) return null;
  const since = Math.max(first.from, end - SECOND);
  const seconds = (end - since) / 1e3;
  if (seconds <= 0) return null;
  let [bytes, requests] = [0, 0];
  for (let i = samples.length - 1; i >= 0 && samples[i]!.ms > since; i--) {
    const { from, ms, bytes: moved, requests: ended } = samples[i]!;
    // Of a sample that lies half in the second, the half.
    const share = ms > from ? Math.min(1, (ms - since) / (ms - from)) : 1;
    bytes += moved * share;
    requests += ended * share;
  }
  const moments = samples.map(({ from, ms, bytes: moved }) => ({
    from: from - first.from,
    ms: ms - first.from,
    bytes: moved,
  }));
  const iops = requests / seconds;
  return {
    rate: bytes / MB / seconds,
    mean: meanRate(moments),
    recent: recentRate(samples),
    // Often asked while it grows: what is thinned tells the level as well.
    sustained: levelsOf(thinned(moments, ENOUGH)).sustained,
    iops,
    requestUs: depth !== null && iops > 0 ? (depth / iops) * 1e6 : null,
  };
}

/** Mean rate of the last five seconds of a step, MB/s: what the time that is left follows from. */
export function recentRate(samples: readonly Pick<Sample, "from" | "ms" | "bytes">[]): number {
  const end = samples.at(-1)?.ms ?? 0;
  const since = Math.max(samples[0]?.from ?? 0, end - RECENT);
  let bytes = 0;
  for (let i = samples.length - 1; i >= 0 && samples[i]!.ms > since; i--) {
    const { from, ms, bytes: moved } = samples[i]!;
    bytes += moved * (ms > from ? Math.min(1, (ms - since) / (ms - from)) : 1);
  }
  return end > since ? bytes / MB / ((end - since) / 1e3) : 0;
}
