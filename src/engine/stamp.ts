import { seeded } from "@/core/simulate/noise";

/**
 * Written data: incompressible, and stamped at every 4 KiB page so that a lost, a stale and a
 * misdirected block can be told apart when it is read back.
 *
 * A stamp is 16 bytes, little-endian: sector number (low 4, high 4), run (4), check of those (4).
 */
export const PAGE = 4096;
const SECTOR = 512;

/** Fills memory with pseudo-random bytes that no drive can compress. */
export function fillIncompressible(data: Uint8Array, seed: number): void {
  const random = seeded(seed);
  const words = new Uint32Array(data.buffer, data.byteOffset, data.byteLength >>> 2);
  for (let i = 0; i < words.length; i++) words[i] = random() * 2 ** 32;
}

/**
 * Stamps every page of a block.
 *
 * @param view the block's memory
 * @param offset where the block goes on the medium, bytes
 * @param run a number that tells this run from others
 */
export function stampBlock(view: DataView, offset: number, run: number): void {
  for (let at = 0; at < view.byteLength; at += PAGE) {
    const sector = (offset + at) / SECTOR;
    const low = sector >>> 0;
    const high = Math.floor(sector / 2 ** 32);
    view.setUint32(at, low, true);
    view.setUint32(at + 4, high, true);
    view.setUint32(at + 8, run, true);
    view.setUint32(at + 12, check(low, high, run), true);
  }
}

export type StampCheck = "intact" | "never written" | "stale" | "misdirected";

/** Reads a page's stamp back. @param offset where the page was read from, bytes */
export function checkStamp(view: DataView, at: number, offset: number, run: number): StampCheck {
  const [low, high, wrote] = [0, 4, 8].map((place) => view.getUint32(at + place, true));
  if (view.getUint32(at + 12, true) !== check(low!, high!, wrote!)) return "never written";
  if (high! * 2 ** 32 + low! !== offset / SECTOR) return "misdirected";
  return wrote === run ? "intact" : "stale";
}

/** A 32-bit mix of the three numbers; no allocation, as it is made for every page written. */
function check(low: number, high: number, run: number): number {
  let mixed = 0x9e3779b9;
  for (let i = 0; i < 3; i++) {
    mixed ^= i === 0 ? low : i === 1 ? high : run;
    mixed = Math.imul(mixed ^ (mixed >>> 16), 0x85ebca6b);
    mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
  }
  return (mixed ^ (mixed >>> 16)) >>> 0;
}
