/** Sizes in bytes, as people write them: "512 KiB", "1MiB", "2 GB", "4096". */

import { plainNumber } from "./number";

const FACTORS: Record<string, number> = {
  "": 1,
  b: 1,
  kb: 1e3,
  mb: 1e6,
  gb: 1e9,
  tb: 1e12,
  kib: 2 ** 10,
  mib: 2 ** 20,
  gib: 2 ** 30,
  tib: 2 ** 40,
};

/**
 * Reads a size.
 *
 * @param text a number with an optional unit: B, kB, MB, GB, TB (powers of 1000) or KiB, MiB,
 *   GiB, TiB (powers of 1024); case, one space, and the sign before the decimals are free,
 *   but for a comma that may part thousands
 * @returns whole bytes
 * @throws RangeError when the text is no size, is negative, is not whole bytes, or is too large
 */
export function parseSize(text: string): number {
  const match = /^\s*(\d+(?:\.\d+|,(?!\d{3}(?!\d))\d+)?)\s*([a-z]*)\s*$/i.exec(text);
  const factor = match ? FACTORS[match[2]!.toLowerCase()] : undefined;
  if (!match || factor === undefined) {
    throw new RangeError(`"${text}" is not a size; write for example 512KiB, 1MiB or 2GB`);
  }
  const bytes = Number(match[1]!.replace(",", ".")) * factor;
  if (!Number.isSafeInteger(bytes)) {
    throw new RangeError(`"${text}" is not a whole number of bytes that can be counted`);
  }
  return bytes;
}

const BINARY = ["B", "KiB", "MiB", "GiB", "TiB", "PiB"];
const DECIMAL = ["B", "kB", "MB", "GB", "TB", "PB"];

/**
 * Writes a size with the largest unit that keeps it at 1 or above, at most 3 significant digits
 * (4 below 10 000 of a unit).
 *
 * @param bytes size in bytes
 * @param base 1024 for KiB, MiB, ...; 1000 for kB, MB, ...
 */
export function formatSize(bytes: number, base: 1000 | 1024 = 1024): string {
  const units = base === 1024 ? BINARY : DECIMAL;
  let value = bytes;
  let unit = 0;
  while (Math.abs(value) >= base && unit < units.length - 1) {
    value /= base;
    unit += 1;
  }
  const digits = Number.isInteger(value) || value >= 100 ? 0 : value >= 10 ? 1 : 2;
  return `${plainNumber(Number(value.toFixed(digits)))} ${units[unit]}`;
}

/**
 * A capacity as the label prints it and as the file manager counts it: "1 TB" and "0.909 TiB". From
 * a tenth of a terabyte on both are of the same order, so that one can be held against the other.
 */
export function formatCapacity(bytes: number): { label: string; counted: string } {
  const counted =
    bytes >= 1e11
      ? `${plainNumber(Number((bytes / 2 ** 40).toPrecision(3)))} TiB`
      : formatSize(bytes, 1024);
  return { label: formatSize(bytes, 1000), counted };
}

/** The same, or null for what is no size. */
export function sizeIn(text: string): number | null {
  try {
    return parseSize(text);
  } catch {
    return null;
  }
}
