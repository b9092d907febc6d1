/** Figures for people: grouped in threes by a narrow space, with a sensible number of digits. */

import { inUnit, type RateUnit } from "./rate";
import { NUMBER_STYLES, writing } from "./writing";

const NARROW_SPACE = "\u202f";
const point = () => NUMBER_STYLES[writing().numbers].point;
const groups = () => NUMBER_STYLES[writing().numbers].groups;

/** A plain number with the decimals it has, in the style that is asked for: "1.5". */
export const plainNumber = (value: number): string => String(value).replace(".", point());

/**
 * Writes a number with a fixed number of decimals and thousands grouped by a narrow no-break
 * space, which reads the same in every language, unless another style is asked for (`writtenAs`).
 */
export function formatNumber(value: number, decimals = 0): string {
  let format = formats.get(decimals);
  if (!format) {
    format = new Intl.NumberFormat("en", {
      minimumFractionDigits: decimals,
      maximumFractionDigits: decimals,
    });
    formats.set(decimals, format);
  }
  return format.format(value).replace(/[,.]/g, (sign) => (sign === "," ? groups() : point()));
}

/** Making a format takes far longer than using it. */
const formats = new Map<number, Intl.NumberFormat>();

/**
 * Writes a rate with about three significant digits: 1 043, 447, 41.2, 7.86.
 *
 * @param rate MB/s or MiB/s; the unit is written by the caller
 */
export function formatRate(rate: number): string {
  const size = Math.abs(rate);
  return formatNumber(rate, size >= 99.95 || size === 0 ? 0 : size >= 9.995 ? 1 : 2);
}

/** Writes a rate in the unit asked for, without the unit: 447, 3.58. @param mbps MB/s */
export const formatIn = (mbps: number, unit: RateUnit): string => formatRate(inUnit(mbps, unit));

/** How rates are written for whoever reads. */
export interface RateWords {
  unit: RateUnit;
  /** A rate without its unit: "447". @param mbps MB/s */
  rate(mbps: number): string;
  /** A rate with its unit: "447 MB/s". @param mbps MB/s */
  said(mbps: number): string;
}

/** Rates as written in one unit. */
export const ratesIn = (unit: RateUnit): RateWords => ({
  unit,
  rate: (mbps) => formatIn(mbps, unit),
  said: (mbps) => `${formatIn(mbps, unit)} ${unit}`,
});

/** Rates as they are kept and written unless the reader asks for another unit. */
export const IN_MB = ratesIn("MB/s");

/** Writes a share (0.934) as a percentage: "93 %", "0.4 %" below 10 %, "5 %" where that is exact. */
export function formatPercent(share: number): string {
  const percent = share * 100;
  const size = Math.abs(percent);
  const whole = size >= 9.95 || Math.abs(percent - Math.round(percent)) < 1e-9;
  return `${formatNumber(percent, whole ? 0 : 1)}${NARROW_SPACE}%`;
}

/**
 * Writes a probability: "94 %", never rounded up past a bound that it does not reach, "over 99 %" where
 * it is not sure, "0.4 %" below 10 %.
 */
export function formatChance(probability: number): string {
  if (probability >= 0.995 && probability < 1) return `over 99${NARROW_SPACE}%`;
  if (probability < 0.0995) return formatPercent(probability);
  return `${Math.floor(probability * 100 + 1e-9)}${NARROW_SPACE}%`;
}

/** Writes a time in microseconds with the unit that reads best: "85 µs", "1.24 ms", "2.1 s". */
export function formatMicroseconds(us: number): string {
  if (us >= 1e6) return `${formatRate(us / 1e6)} s`;
  if (us >= 1e3) return `${formatRate(us / 1e3)} ms`;
  return `${formatRate(us)} µs`;
}

/** Writes a duration in whole seconds: "5 s", "2 min 05 s". */
export function formatSeconds(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds));
  if (whole < 60) return `${whole} s`;
  return `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, "0")} s`;
}

/** Writes a measured time with about three digits: "340 ms", "12.3 s", "2 min 05 s". */
export function formatDuration(ms: number): string {
  if (ms < 999.5) return `${formatRate(ms)} ms`;
  return ms < 59_950 ? `${formatNumber(ms / 1e3, ms < 9_950 ? 2 : 1)} s` : formatSeconds(ms / 1e3);
}

/** A time that is only estimated, no finer than it is known: "35 s", "4 min", "2 h 10 min". */
export function formatAbout(seconds: number): string {
  if (seconds < 90) return `${Math.max(5, Math.round(seconds / 5) * 5)} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  const rest = Math.round((minutes % 60) / 5) * 5;
  const hours = Math.floor(minutes / 60) + (rest === 60 ? 1 : 0);
  return rest === 0 || rest === 60 ? `${hours} h` : `${hours} h ${rest} min`;
}
