import { distance } from "fastest-levenshtein";

/** What a unit of a claim counts: bytes or bits a second, in MB/s or Gb/s; or requests a second. */
export interface ClaimUnit {
  of: "bytes" | "bits" | "requests";
  factor: number;
}

const BYTES = /^([kMGT])(i?)B(?:\/s|\/sec|\/second|ps)$/;
const BITS = /^([kMGT])(?:b|bit|bits)(?:\/s|\/sec|ps)$|^([kMGT])bit$/;
const POWER: Record<string, number> = { k: 1, M: 2, G: 3, T: 4 };

/** Units as they are suggested where one is not understood. */
const USUAL = ["MB/s", "GB/s", "Gb/s", "MBps", "GBps", "Gbps", "Gbit/s", "IOPS"];

/**
 * Reads a unit as printed: MB/s and GBps are bytes, Gb/s and Gbps bits; MiB/s too.
 *
 * @returns null where it is none, or where the letters may mean bytes or bits ("mb/s")
 */
export function claimUnit(text: string): ClaimUnit | null {
  if (/^(?:iops|io\/s)$/i.test(text)) return { of: "requests", factor: 1 };
  if (/^gbps$/.test(text)) return { of: "bits", factor: 1 };
  const bytes = BYTES.exec(text);
  if (bytes) {
    const base = bytes[2] ? 1024 : 1000;
    return { of: "bytes", factor: base ** POWER[bytes[1]!]! / 1e6 };
  }
  const bits = BITS.exec(text);
  if (!bits) return null;
  return { of: "bits", factor: 1000 ** POWER[(bits[1] ?? bits[2])!]! / 1e9 };
}

/** What a unit that is none, or not clear, may have meant; the likeliest first. */
export function unitsMeant(text: string): string[] {
  const lower = text.toLowerCase();
  if (/^m/.test(lower) && /^m(?:b|bit)?(?:\/s|ps)?$/.test(lower)) return ["MB/s", "Mb/s"];
  if (/^g/.test(lower) && /^g(?:b|bit)?(?:\/s|ps)?$/.test(lower)) return ["GB/s", "Gb/s"];
  const letters = (of: string) => [...of].sort().join("");
  const turned = USUAL.filter((unit) => letters(unit) === letters(text));
  if (turned.length > 0) return turned;
  const apart = USUAL.map((unit) => distance(lower, unit.toLowerCase()));
  const least = Math.min(...apart);
  return least <= 2 ? USUAL.filter((_, i) => apart[i] === least) : [];
}

const FIGURE = String.raw`\d{1,3}(?:[,\u202f\u00a0 ]\d{3})+(?:\.\d+)?|\d+(?:[.,]\d+)?`;

/** A figure, or two for both directions, each with its "k"; then its unit, if it has one. */
export const FIGURES = new RegExp(
  String.raw`(?<![\w.])(${FIGURE})\s?([kKmM](?![a-zA-Z]|/(?!\s*\d)|\s*[bB]))?\s*(?:/\s*(${FIGURE})\s?([kKmM](?![a-zA-Z]|/(?!\s*\d)|\s*[bB]))?\s*)?([a-zA-Z][a-zA-Z/]*)?`,
);

/** Reads a figure as printed: "2,800", "2 800", "2,5", "550" with "k". */
export function figureOf(text: string, thousands: string | undefined): number {
  const grouped = /^\d{1,3}(?:[,\u202f\u00a0 ]\d{3})+(?:\.\d+)?$/.test(text);
  const plain = grouped ? text.replace(/[,\u202f\u00a0 ]/g, "") : text.replace(",", ".");
  return Number(plain) * ({ k: 1e3, m: 1e6 }[(thousands ?? "").toLowerCase()] ?? 1);
}

/** Whether a point may part thousands in it: "2.800", which others write for 2 800. */
export const isUnclear = (text: string): boolean => /^[1-9]\d{0,2}\.\d{3}$/.test(text);
