import { max, mean, median, min, sampleStandardDeviation } from "simple-statistics";
import { studentQuantile } from "./student";

/** Repeats of one measurement, summed up. Rates are in the unit of the values given. */
export interface Repeats {
  n: number;
  median: number;
  mean: number;
  /** Largest less smallest value, as a share of the median. */
  spread: number;
  /** Coefficient of variation (sample standard deviation / mean); null for one value. */
  cv: number | null;
  /** 95 % interval of the mean by Student's t; null for one value, which has none. */
  interval: { low: number; high: number } | null;
  values: number[];
}

/**
 * Sums repeats up.
 *
 * @param values at least one finite value
 * @throws RangeError when there is none
 */
export function summarise(values: readonly number[]): Repeats {
  if (values.length === 0) throw new RangeError("There is no value to sum up.");
  const data = [...values];
  const centre = median(data);
  const average = mean(data);
  const n = data.length;
  let interval: Repeats["interval"] = null;
  let cv: number | null = null;
  if (n > 1) {
    const sd = sampleStandardDeviation(data);
    const half = (studentQuantile(0.975, n - 1) * sd) / Math.sqrt(n);
    interval = { low: average - half, high: average + half };
    cv = average === 0 ? null : sd / average;
  }
  const spread = centre === 0 ? 0 : (max(data) - min(data)) / centre;
  return { n, median: centre, mean: average, spread, cv, interval, values: data };
}
