import { fadeAt } from "../trace/rates";
import { together, type LaneStretch } from "../trace/together";
import { MB } from "../units/rate";
import { medianOf } from "./noise";

/**
 * The flow of one run: when how much moved, in columns, so that a million samples are no burden.
 * Samples of several targets are joined.
 */
export interface Flow {
  /** Beginnings and ends of the samples, milliseconds; in order, none within another. */
  from: Float64Array;
  to: Float64Array;
  bytes: Float64Array;
  /** Bytes up to the beginning of each sample, and of all; and milliseconds that were sampled. */
  sum: Float64Array;
  sampled: Float64Array;
  /** The usual length of a sample, milliseconds. */
  usualMs: number;
}

/** @param all samples in order of time; what overlaps with the one before of its target is cut there */
export function flowOf(all: readonly LaneStretch[]): Flow {
  const samples = together(all);
  const from = new Float64Array(samples.length);
  const to = new Float64Array(samples.length);
  const bytes = new Float64Array(samples.length);
  let n = 0;
  for (const sample of samples) {
    const last = n > 0 ? to[n - 1]! : -Infinity;
    if (sample.ms <= last) {
      if (n > 0) bytes[n - 1]! += sample.bytes;
      continue;
    }
    from[n] = Math.max(sample.from, last);
    to[n] = sample.ms;
    bytes[n] = sample.bytes;
    if (to[n]! > from[n]!) n += 1;
  }
  const sum = new Float64Array(n + 1);
  const sampled = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    sum[i + 1] = sum[i]! + bytes[i]!;
    sampled[i + 1] = sampled[i]! + to[i]! - from[i]!;
  }
  const flow = { from: from.subarray(0, n), to: to.subarray(0, n), bytes: bytes.subarray(0, n) };
  return { ...flow, sum, sampled, usualMs: usual(flow) };
}

/** The median length, by a thousand of them. */
function usual({ from, to }: Pick<Flow, "from" | "to">): number {
  const step = Math.max(1, Math.floor(from.length / 1000));
  const lengths: number[] = [];
  for (let i = 0; i < from.length; i += step) lengths.push(to[i]! - from[i]!);
  lengths.sort((a, b) => a - b);
  return lengths[lengths.length >> 1] ?? 0;
}

export const startOf = ({ from }: Flow): number => from[0] ?? 0;
export const endOf = ({ to }: Flow): number => to.at(-1) ?? 0;

/** The first sample that ends after a time; as many as there are, where none does. */
export function sampleAt({ to }: Flow, ms: number): number {
  let [low, high] = [0, to.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (to[middle]! > ms) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** Bytes moved up to a time, each sample's spread evenly over it. */
export function bytesUntil(flow: Flow, ms: number): number {
  const i = sampleAt(flow, ms);
  if (i >= flow.to.length) return flow.sum.at(-1) ?? 0;
  const share = (ms - flow.from[i]!) / (flow.to[i]! - flow.from[i]!);
  return flow.sum[i]! + Math.max(0, share) * flow.bytes[i]!;
}

/** Rate of one sample, MB/s. */
export const rateAt = ({ bytes, from, to }: Flow, i: number): number =>
  bytes[i]! / 1e3 / (to[i]! - from[i]!);

/** Of more samples than this, every so manieth tells the median well enough. */
const ENOUGH = 20_000;

/**
 * The median rate of samples, MB/s; 0 for none.
 *
 * @param first of them @param end the first one after them
 * @param only those that are counted
 */
export function medianRate(
  flow: Flow,
  first: number,
  end: number,
  only: (rate: number) => boolean = () => true,
): number {
  const step = Math.max(1, Math.floor((end - first) / ENOUGH));
  const rates: number[] = [];
  for (let i = first; i < Math.min(end, flow.to.length); i += step) {
    const rate = rateAt(flow, i);
    if (only(rate)) rates.push(rate);
  }
  return medianOf(Float64Array.from(rates)) || 0;
}

/** Mean rate between two times, MB/s; what was not sampled does not count as time. */
export function meanBetween(flow: Flow, from: number, to: number): number {
  const ms = sampledUntil(flow, to) - sampledUntil(flow, from);
  return ms > 0 ? (bytesUntil(flow, to) - bytesUntil(flow, from)) / MB / (ms / 1e3) : 0;
}

/**
 * The rate of one level, MB/s: its mean, with the ends of the time faded in and out as in the headline
 * of a run (trace/rates.ts), so that a run of one level has one rate everywhere.
 *
 * @param from, to milliseconds; what was not sampled does not count as time
 */
export function rateBetween(flow: Flow, from: number, to: number): number {
  const end = sampledUntil(flow, to) - sampledUntil(flow, from);
  let [at, weighted, weight] = [0, 0, 0];
  for (let i = sampleAt(flow, from); i < flow.to.length && flow.from[i]! < to; i++) {
    const long = Math.min(to, flow.to[i]!) - Math.max(from, flow.from[i]!);
    if (long <= 0) continue;
    const fade = fadeAt(at + long / 2, end);
    weighted += (fade * flow.bytes[i]! * long) / (flow.to[i]! - flow.from[i]!);
    weight += fade * long;
    at += long;
  }
  return weight > 0 ? weighted / MB / (weight / 1e3) : 0;
}

function sampledUntil(flow: Flow, ms: number): number {
  const i = sampleAt(flow, ms);
  if (i >= flow.to.length) return flow.sampled.at(-1) ?? 0;
  return flow.sampled[i]! + Math.max(0, ms - flow.from[i]!);
}

/** A time that is so much longer than a sample is a gap: nothing is known of it. */
const GAP_SAMPLES = 1.5;
const GAP_MS = 60;

/** Where nothing was sampled for longer than a sampler may be late. */
export function gapsOf({ from, to, usualMs }: Flow): { from: number; to: number }[] {
  const least = Math.max(GAP_MS, GAP_SAMPLES * usualMs);
  const gaps: { from: number; to: number }[] = [];
  for (let i = 1; i < from.length; i++)
    if (from[i]! - to[i - 1]! > least) gaps.push({ from: to[i - 1]!, to: from[i]! });
  return gaps;
}

/** The best mean over a stretch of so many milliseconds, MB/s; of the whole where it is shorter. */
export function bestMean(flow: Flow, width: number): number {
  const [start, end] = [startOf(flow), endOf(flow)];
  if (end <= start) return 0;
  if (end - start <= width) return meanBetween(flow, start, end);
  let best = 0;
  // The best stretch begins or ends where a sample does; two pointers keep it linear.
  for (const ahead of [true, false]) {
    let other = 0;
    for (let i = 0; i < flow.to.length; i++) {
      const edge = ahead ? flow.from[i]! + width : flow.to[i]! - width;
      if (ahead ? edge > end : edge < start) continue;
      while (other < flow.to.length && flow.to[other]! <= edge) other += 1;
      const part =
        other < flow.to.length
          ? Math.max(0, edge - flow.from[other]!) / (flow.to[other]! - flow.from[other]!)
          : 0;
      const at = flow.sum[other]! + part * (flow.bytes[other] ?? 0);
      best = Math.max(best, ahead ? at - flow.sum[i]! : flow.sum[i + 1]! - at);
    }
  }
  return best / MB / (width / 1e3);
}
