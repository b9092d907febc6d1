/** What a drive does at a fill level: what it takes at full rate, and what it does before and after. */
export interface FillRates {
  cacheBytes: number;
  /** Into the cache, and past it, MB/s. */
  fullMBps: number;
  afterMBps: number;
}

/** Seconds that a job takes: into the cache as far as that goes, the rest at the rate after it. */
export function jobSeconds(bytes: number, { cacheBytes, fullMBps, afterMBps }: FillRates): number {
  const fast = Math.min(bytes, cacheBytes);
  const slow = bytes - fast;
  return fast / (fullMBps * 1e6) + (slow > 0 ? slow / (afterMBps * 1e6) : 0);
}
