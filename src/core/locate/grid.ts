/**
 * Rates on an even grid of their logarithms: what is not known of a part is a distribution on it.
 * The last place is "more than matters here".
 */
export interface Grid {
  /** MB/s at each place, rising; the last is Infinity. */
  rates: Float64Array;
  /** Logarithms of the finite rates. */
  logs: Float64Array;
  /** Distance of two places, as a difference of logarithms. */
  step: number;
}

/** Finer than the noise of any bench, so that nothing depends on where the places fall. */
const STEP = 0.025;
/** Places at most: a study whose rates lie further apart is looked at more coarsely. */
const MOST = 480;

/** A grid from one rate to another. @param low MB/s @param high MB/s */
export function gridOver(low: number, high: number): Grid {
  const width = Math.log(high / low);
  const step = Math.max(STEP, width / MOST);
  const count = Math.max(2, Math.ceil(width / step) + 1);
  const logs = Float64Array.from({ length: count }, (_, i) => Math.log(low) + i * step);
  const rates = Float64Array.from([...logs.map(Math.exp), Infinity]);
  return { rates, logs, step };
}

/** The place of a grid that a rate is nearest to, the finite ones only. @param mbps MB/s */
export function placeOf({ logs, step }: Grid, mbps: number): number {
  const place = Math.round((Math.log(mbps) - logs[0]!) / step);
  return Math.max(0, Math.min(logs.length - 1, place));
}
