/** Figures for people: grouped in threes by a narrow space, with a sensible number of digits. */

const NARROW_SPACE = "\u202f";

/**
 * Writes a number with a fixed number of decimals and thousands grouped by a narrow no-break
 * space, which reads the same in every language.
 */
export function formatNumber(value: number, decimals = 0): string {
  return new Intl.NumberFormat("en", {
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
  })
    .format(value)
    .replaceAll(",", NARROW_SPACE);
}

/**
 * Writes a rate with about three significant digits: 1 043, 447, 41.2, 7.86.
 *
 * @param rate MB/s or MiB/s; the unit is written by the caller
 */
export function formatRate(rate: number): string {
  const size = Math.abs(rate);
  return formatNumber(rate, size >= 99.95 || size === 0 ? 0 : size >= 9.995 ? 1 : 2);
}

/** Writes a share (0.934) as a percentage: "93 %", "0.4 %" below 10 %, "5 %" where that is exact. */
export function formatPercent(share: number): string {
  const percent = share * 100;
  const size = Math.abs(percent);
  const whole = size >= 9.95 || Math.abs(percent - Math.round(percent)) < 1e-9;
  return `${formatNumber(percent, whole ? 0 : 1)}${NARROW_SPACE}%`;
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
