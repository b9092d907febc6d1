/**
 * Request times in buckets whose width is at most 1/64 of the time: exact enough for percentiles,
 * small enough for one per lane, recorded without allocating, and merged by adding.
 *
 * A time of t units with top bit e falls into bucket 64 e' + its next 6 bits. Units are
 * nanoseconds up to 2^31 (2.1 s) and 1024 ns above.
 */
const SUB = 64;
const FINE = 32 * SUB;

/** Buckets of one histogram. */
export const BUCKETS = 2 * FINE;

/** Request times, microseconds. */
export interface Percentiles {
  p50: number;
  p95: number;
  p99: number;
  p999: number;
  p9999: number | null;
  max: number;
}

/** The bucket of a time. @param ns nanoseconds, at least 0 */
export function bucketOf(ns: number): number {
  if (ns < 2 ** 31) return bits(ns | 0);
  return FINE + bits(Math.min(ns / 1024, 2 ** 31 - 1) | 0);
}

function bits(value: number): number {
  if (value < SUB) return value;
  const top = 31 - Math.clz32(value);
  return (top - 5) * SUB + ((value >>> (top - 6)) & (SUB - 1));
}

/** The middle of a bucket, nanoseconds. */
export function middleOf(bucket: number): number {
  if (bucket >= FINE) return unbits(bucket - FINE) * 1024;
  return unbits(bucket);
}

function unbits(index: number): number {
  if (index < SUB) return index;
  const shift = Math.floor(index / SUB) - 1;
  return (SUB + (index % SUB) + 0.5) * 2 ** shift;
}

/** Adds histograms up. @param histograms arrays of counts, by bucket */
export function merged(histograms: readonly ArrayLike<number>[]): Float64Array {
  const sum = new Float64Array(BUCKETS);
  for (const histogram of histograms) {
    for (let i = 0; i < BUCKETS; i++) sum[i] = sum[i]! + (histogram[i] ?? 0);
  }
  return sum;
}

/**
 * Percentiles of a histogram, by nearest rank.
 *
 * @param maxNs the longest single request, nanoseconds
 */
export function percentiles(histogram: ArrayLike<number>, maxNs: number): Percentiles {
  let total = 0;
  for (let i = 0; i < BUCKETS; i++) total += histogram[i]!;
  const at = (share: number) => {
    let left = Math.max(1, Math.ceil(total * share));
    for (let i = 0; i < BUCKETS; i++) {
      left -= histogram[i]!;
      if (left <= 0) return Math.min(middleOf(i), maxNs) / 1e3;
    }
    return maxNs / 1e3;
  };
  if (total === 0) return { p50: 0, p95: 0, p99: 0, p999: 0, p9999: 0, max: 0 };
  return {
    p50: at(0.5),
    p95: at(0.95),
    p99: at(0.99),
    p999: at(0.999),
    p9999: at(0.9999),
    max: maxNs / 1e3,
  };
}

/** Writes a histogram as text: pairs of gap to the bucket before and count, in hexadecimal. */
export function packHistogram(histogram: ArrayLike<number>): string {
  const pairs: string[] = [];
  let last = -1;
  for (let i = 0; i < histogram.length; i++) {
    if (!histogram[i]) continue;
    pairs.push(`${(i - last).toString(16)}.${histogram[i]!.toString(16)}`);
    last = i;
  }
  return pairs.join(" ");
}

/** Reads a histogram as `packHistogram` wrote it; what is no such text gives an empty one. */
export function unpackHistogram(text: string): Float64Array {
  const histogram = new Float64Array(BUCKETS);
  let last = -1;
  for (const pair of text.split(" ").filter(Boolean)) {
    const [gap, count] = pair.split(".").map((word) => Number.parseInt(word, 16));
    last += gap ?? NaN;
    if (!(last < BUCKETS) || !Number.isFinite(count)) return new Float64Array(BUCKETS);
    histogram[last] = count!;
  }
  return histogram;
}
