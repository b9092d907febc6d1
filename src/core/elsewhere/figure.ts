import { MB } from "../units/rate";

/** What somebody read off elsewhere and wrote down. */
export type Figure =
  | { kind: "rate"; mbps: number }
  | { kind: "iops"; iops: number }
  /** So many bytes within so many seconds, by a stopwatch. */
  | { kind: "moved"; bytes: number; seconds: number };

/** Which sign stands before decimals. */
export type DecimalSign = "." | ",";

const BYTES: Record<string, number> = { "": 1, k: 1e3, m: 1e6, g: 1e9, t: 1e12 };
const BINARY: Record<string, number> = {
  ki: 2 ** 10,
  mi: 2 ** 20,
  gi: 2 ** 30,
  ti: 2 ** 40,
};

/** A number, perhaps with groups of three set off by spaces, points, commas or apostrophes. */
const NUMBER = String.raw`[+-]?\d[\d.,’'\u00a0\u202f ]*`;
const SPACES = /[\u00a0\u202f\s’']/g;

/**
 * A number as people and spreadsheets write it.
 *
 * @param sign the decimal sign, where that is known; else the last sign that is followed by other
 *   than three digits counts as it, and a single one before three digits sets off a group
 * @returns null for what is no number
 */
export function readNumber(text: string, sign?: DecimalSign): number | null {
  const plain = text.trim().replace(SPACES, "");
  if (!/^[+-]?\d[\d.,]*$/.test(plain)) return null;
  const decimal = sign ?? decimalSignOf([plain]) ?? ".";
  const group = decimal === "." ? "," : ".";
  const [whole, fraction, ...more] = plain.split(decimal);
  if (more.length > 0) return sign ? null : readNumber(plain.replaceAll(decimal, ""), decimal);
  const groups = whole!.replace(/^[+-]/, "").split(group);
  if (groups.length > 1 && groups.slice(1).some((digits) => digits.length !== 3)) return null;
  if (fraction?.includes(group)) return null;
  const value = Number(`${whole!.replaceAll(group, "")}.${fraction ?? "0"}`);
  return Number.isFinite(value) ? value : null;
}

/** The decimal sign that some numbers use; null where none of them tells. */
export function decimalSignOf(texts: readonly string[]): DecimalSign | null {
  for (const text of texts) {
    const signs = [...text.replace(SPACES, "").matchAll(/[.,](\d*)/g)];
    const last = signs.at(-1);
    if (!last) continue;
    const mark = last[0][0] as DecimalSign;
    const kinds = new Set(signs.map(([found]) => found[0]));
    // Two kinds of signs: the last one is the decimal sign.
    if (kinds.size === 2) return mark;
    if (signs.length === 1 && last[1]!.length !== 3) return mark;
    if (signs.length > 1) return mark === "." ? "," : ".";
  }
  return null;
}

/** A unit of throughput, of requests or of time, as read off a head or behind a number. */
export type Unit = { kind: "rate"; mbps: number } | { kind: "iops"; times: number };

const RATE_UNIT =
  /^(k|m|g|t|ki|mi|gi|ti)?(b|byte|bytes|bit|bits)(?:\/s|ps|\/sec|\/second|ytes\/s)?$/i;

/**
 * A unit of throughput or of requests. A small b is a bit, a capital B a byte; where it is written out
 * that counts. "MBps" is as good as "MB/s".
 *
 * @returns null for what is neither
 */
export function readUnit(text: string): Unit | null {
  const plain = text
    .trim()
    .replace(/\s+/g, "")
    .replace(/per(s|sec|second)$/i, "/s");
  const iops = /^(k|m)?(iops|io\/s|requests?\/s|req\/s|ops)$/i.exec(plain);
  if (iops) return { kind: "iops", times: BYTES[(iops[1] ?? "").toLowerCase()]! };
  const found = RATE_UNIT.exec(plain);
  if (!found || !/(\/|ps)/i.test(plain)) return null;
  const [, prefix = "", what] = found;
  const scale = sizeOf(prefix);
  if (scale === null) return null;
  const bits = what === "b" || /^bits?$/i.test(what!);
  return { kind: "rate", mbps: scale / MB / (bits ? 8 : 1) };
}

function sizeOf(prefix: string): number | null {
  const small = prefix.toLowerCase();
  return BYTES[small] ?? BINARY[small] ?? null;
}

/** Bytes from "320 GB" or "1,5 TiB". @returns null for what is no size */
export function readBytes(text: string, sign?: DecimalSign): number | null {
  const found = new RegExp(`^(${NUMBER})\\s*([kmgt]i?)?b(?:ytes?)?$`, "i").exec(text.trim());
  if (!found || / b$/.test(text)) return null;
  const value = readNumber(found[1]!, sign);
  const scale = sizeOf(found[2] ?? "");
  return value === null || scale === null || value <= 0 ? null : value * scale;
}

/** Seconds from "6:40", "1:02:03", "400 s", "6 min 40 s" or "2 h". @returns null for what is no time */
export function readSeconds(text: string, sign?: DecimalSign): number | null {
  const plain = text.trim().toLowerCase();
  const clock = /^(?:(\d+):)?(\d{1,3}):(\d{2}(?:[.,]\d+)?)$/.exec(plain);
  if (clock) {
    const [, hours = "0", minutes, seconds] = clock;
    const s = Number(seconds!.replace(",", "."));
    if (s >= 60 || (clock[1] && Number(minutes) >= 60)) return null;
    return Number(hours) * 3600 + Number(minutes) * 60 + s;
  }
  const pieces = [
    ...plain.matchAll(
      new RegExp(`(${NUMBER})\\s*(hours?|h|minutes?|mins?|m|seconds?|secs?|s)(?![a-z])`, "g"),
    ),
  ];
  if (pieces.length === 0) return null;
  if (
    plain.replace(/[\s,]/g, "") !==
    pieces
      .map(([all]) => all)
      .join("")
      .replace(/[\s,]/g, "")
  )
    return null;
  let sum = 0;
  for (const [, amount, unit] of pieces) {
    const value = readNumber(amount!, sign);
    if (value === null) return null;
    sum += value * (unit![0] === "h" ? 3600 : unit![0] === "m" ? 60 : 1);
  }
  return sum > 0 ? sum : null;
}

/**
 * A figure as it is typed: "452 MB/s", "3,5 Gb/s", "85k IOPS", "320 GB in 6:40".
 *
 * @param unit what a bare number is of
 * @returns null for what is none
 */
export function readFigure(
  text: string,
  unit: Unit | null = null,
  sign?: DecimalSign,
): Figure | null {
  const plain = text.trim();
  const [size, time, ...more] = plain.split(/\s+(?:in|within)\s+|\s*\/\s*(?=\d)/i);
  if (time !== undefined && more.length === 0) {
    const [bytes, seconds] = [readBytes(size!, sign), readSeconds(time, sign)];
    return bytes !== null && seconds !== null ? { kind: "moved", bytes, seconds } : null;
  }
  const found = new RegExp(`^(${NUMBER})(.*)$`).exec(plain);
  if (!found) return null;
  const value = readNumber(found[1]!, sign);
  if (value === null || value <= 0) return null;
  const of = found[2]!.trim() ? readUnit(found[2]!) : unit;
  if (!of) return null;
  return of.kind === "rate"
    ? { kind: "rate", mbps: value * of.mbps }
    : { kind: "iops", iops: value * of.times };
}

/** The rate of a figure, MB/s. @param block bytes of a request, for figures of requests */
export function rateOfFigure(figure: Figure, block: number): number {
  switch (figure.kind) {
    case "rate":
      return figure.mbps;
    case "iops":
      return (figure.iops * block) / MB;
    case "moved":
      return figure.bytes / MB / figure.seconds;
  }
}
