import { median } from "simple-statistics";

/** How much of a cache was back after a rest: what the fill behind it took at full rate. */
export interface Rested {
  restSeconds: number;
  /** Bytes up to the edge; all of the fill where it met none. */
  backBytes: number;
  /** Whether the fill ended before any edge: more may have been back. */
  whole: boolean;
}

/** How fast a cache comes back while the drive rests. */
export interface Recovery {
  /** Bytes a second, the median over the rests after which it was not whole. */
  bytesPerSecond: number;
  /** The shortest rest after which it was whole, seconds; null where none was long enough. */
  wholeAfterSeconds: number | null;
}

/** From so much of the whole cache on it counts as whole again. */
const WHOLE = 0.95;

/**
 * How fast a cache comes back, from fills after rests.
 *
 * @param first what the first fill took at full rate, bytes, from a rested drive
 * @returns null where no rest was short enough to tell
 */
export function recoveryOf(first: number, rests: readonly Rested[]): Recovery | null {
  const isWhole = ({ whole, backBytes }: Rested) => whole || backBytes >= WHOLE * first;
  const rates = rests
    .filter((one) => !isWhole(one) && one.restSeconds > 0)
    .map(({ backBytes, restSeconds }) => backBytes / restSeconds);
  if (rates.length === 0) return null;
  const long = rests.filter(isWhole).map(({ restSeconds }) => restSeconds);
  return {
    bytesPerSecond: median(rates),
    wholeAfterSeconds: long.length > 0 ? Math.min(...long) : null,
  };
}

/**
 * How long a drive has to rest after so many bytes, seconds: the drive has no more to clear than its cache holds,
 * and needs no longer than after which the cache was seen whole.
 */
export const restAfter = (
  bytes: number,
  cacheBytes: number,
  { bytesPerSecond, wholeAfterSeconds }: Recovery,
): number =>
  Math.min(
    Math.min(bytes, cacheBytes) / bytesPerSecond,
    wholeAfterSeconds ?? Number.POSITIVE_INFINITY,
  );
