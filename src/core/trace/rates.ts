import { quantileSorted } from "simple-statistics";
import type { Moment } from "./curve";

/** A moment that says itself where it begins; one that does not begins where the one before ended. */
type Stretch = Moment & { from?: number };
import { MB } from "../units/rate";
import { together, type LaneStretch } from "./together";

/** A point of a trace: the rate over the time since the sample before it. */
export interface RatePoint {
  ms: number;
  mbps: number;
}

/**
 * Turns samples into rates. Samples that stand at the same instant are joined; a gap in time is
 * spread over the gap, never filled with zeros.
 */
export function ratesOf(samples: readonly Stretch[]): RatePoint[] {
  const points: RatePoint[] = [];
  let last = 0;
  let bytes = 0;
  for (const sample of samples) {
    bytes += sample.bytes;
    last = Math.max(last, sample.from ?? 0);
    const elapsed = sample.ms - last;
    if (elapsed <= 0) continue;
    points.push({ ms: sample.ms, mbps: bytes / MB / (elapsed / 1e3) });
    last = sample.ms;
    bytes = 0;
  }
  return points;
}

/** The trace in three figures, all targets together, MB/s; null without samples. */
export function spreadOfTrace(
  samples: readonly LaneStretch[],
): { p5: number; p50: number; p95: number } | null {
  const rates = ratesOf(together(samples))
    .map(({ mbps }) => mbps)
    .sort((a, b) => a - b);
  if (rates.length === 0) return null;
  return {
    p5: quantileSorted(rates, 0.05),
    p50: quantileSorted(rates, 0.5),
    p95: quantileSorted(rates, 0.95),
  };
}

/** Share of the time, at each end, over which a sample's weight rises from nothing to one. */
const RAMP = 0.1;

/**
 * The headline of a run: its mean rate, with the ends of the counted time faded in and out.
 *
 * Drives, bridges and throttles let data through in bursts of a tenth of a second or more. Cut hard,
 * the counted time holds one burst more or less than its share: 2.6 % of a run of 4 s, in the worst
 * case seen. Faded over a tenth of the time at each end, half of that at most (a taper, as used in
 * estimating spectra). For a steady flow both are the same.
 *
 * @param samples in order of time
 * @returns MB/s; 0 without samples
 */
export function headlineRate(samples: readonly Moment[]): number {
  const end = samples.at(-1)?.ms ?? 0;
  let last = 0;
  let weighted = 0;
  let weight = 0;
  for (const { ms, bytes } of samples) {
    const fade = fadeAt((last + ms) / 2, end);
    weighted += fade * bytes;
    weight += fade * (ms - last);
    last = ms;
  }
  return weight > 0 ? weighted / MB / (weight / 1e3) : 0;
}

/** How much a moment counts in a headline, 0 to 1. @param at within the counted time, of `end` ms */
export const fadeAt = (at: number, end: number): number =>
  Math.min(1, at / (RAMP * end), (end - at) / (RAMP * end));

/** Mean of what has been counted so far, MB/s. */
export function meanRate(samples: readonly Moment[]): number {
  const end = samples.at(-1)?.ms ?? 0;
  const bytes = samples.reduce((sum, s) => sum + s.bytes, 0);
  return end > 0 ? bytes / MB / (end / 1e3) : 0;
}
