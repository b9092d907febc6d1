import type { ColumnRole } from "@/core/elsewhere/log";

const RATES: [number, string][] = [
  [1, "MB/s"],
  [1.048576, "MiB/s"],
  [1e-3, "kB/s"],
  [1.024e-3, "KiB/s"],
  [1e-6, "bytes a second"],
  [1e3, "GB/s"],
  [0.125, "Mb/s"],
  [125, "Gb/s"],
];
const SIZES: [number, string][] = [
  [1, "bytes"],
  [512, "sectors of 512 bytes"],
  [1e3, "kB"],
  [1024, "KiB"],
  [1e6, "MB"],
  [2 ** 20, "MiB"],
  [1e9, "GB"],
];
const TIMES: [number, string][] = [
  [1, "seconds"],
  [1e-3, "milliseconds"],
  [1e-6, "microseconds"],
  [60, "minutes"],
];

/** The units that a column can be in, by what it is. @param now the one it is in */
export function scaleOptions(
  role: ColumnRole,
  now: number | null,
): { value: string; text: string }[] {
  const units = role.endsWith("rate")
    ? RATES
    : role.endsWith("bytes") || role.endsWith("counter")
      ? SIZES
      : role.startsWith("time")
        ? TIMES
        : [];
  const known = units.map(([scale, text]) => ({ value: String(scale), text }));
  if (role.startsWith("time")) known.push({ value: "null", text: "time of day" });
  const there = known.some(({ value }) => value === String(now));
  return units.length === 0 || there ? known : [...known, { value: String(now), text: `× ${now}` }];
}
