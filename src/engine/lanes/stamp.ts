import { seeded } from "@/core/simulate/noise";

/**
 * Written data: incompressible, and stamped at every page so that a lost, a stale, a misdirected and
 * a damaged block can be told apart when it is read back. native/stamp.c writes and checks the same.
 *
 * A stamp is 16 bytes, little-endian: sector number (low 32 bits; high 16 bits and the number of the
 * writing), run, check of those. What Proof writes follows from the stamp to the last byte; other
 * drills fill the page with random bytes.
 */
export const PAGE = 4096;
const SECTOR = 512;

/** What a page turns out to be, in the numbers of native/stamp.h. */
export const PAGE_STATES = ["intact", "lost", "stale", "misdirected", "damaged"] as const;
export type PageState = (typeof PAGE_STATES)[number];

/** Of whose writing a page is. */
export interface Mark {
  /** Tells this run from others. */
  run: number;
  /** Which writing of the run it is; 0 where that is not asked. */
  generation: number;
}

/**
 * Fills memory with pseudo-random bytes that no drive can compress, but for a share at the end of
 * each page.
 */
export function fillIncompressible(data: Uint8Array, seed: number, compressible = 0): void {
  const random = seeded(seed);
  const words = new Uint32Array(data.buffer, data.byteOffset, data.byteLength >>> 2);
  const page = Math.min(PAGE, data.byteLength) / 4;
  const filled = Math.round(page * (1 - compressible));
  for (let i = 0; i < words.length; i++) {
    if (compressible === 0 || i % page < filled) words[i] = random() * 2 ** 32;
  }
}

/**
 * Stamps every page of a block.
 *
 * @param view the block's memory
 * @param offset where the block goes on the medium, bytes
 */
export function stampBlock(view: DataView, offset: number, { run, generation }: Mark): void {
  for (let at = 0; at < view.byteLength; at += PAGE) {
    const sector = (offset + at) / SECTOR;
    const low = sector >>> 0;
    const high = (Math.floor(sector / 2 ** 32) & 0xffff) | (generation << 16);
    view.setUint32(at, low, true);
    view.setUint32(at + 4, high, true);
    view.setUint32(at + 8, run, true);
    view.setUint32(at + 12, mixed(low, high >>> 0, run), true);
  }
}

/** Makes the rest of every stamped page from its stamp. */
export function generateBlock(view: DataView): void {
  for (let page = 0; page < view.byteLength; page += PAGE) {
    const words = Math.min(PAGE, view.byteLength - page) / 4;
    const seed = view.getUint32(page + 12, true);
    for (let i = 4; i < words; i++) {
      let word = (seed + Math.imul(i, 0x9e3779b9)) | 0;
      word = Math.imul(word ^ (word >>> 16), 0x85ebca6b);
      word = Math.imul(word ^ (word >>> 13), 0xc2b2ae35);
      view.setUint32(page + 4 * i, (word ^ (word >>> 16)) >>> 0, true);
    }
  }
}

/**
 * Holds a page that was read back against what was written.
 *
 * @param page up to 4096 bytes
 * @param offset where the page was read from, bytes
 */
export function checkPage(page: DataView, offset: number, mark: Mark): PageState {
  const [low, high, run] = [0, 4, 8].map((place) => page.getUint32(place, true));
  if (page.getUint32(12, true) === mixed(low!, high!, run!)) {
    if (run !== mark.run || high! >>> 16 !== mark.generation) return "stale";
    if ((high! & 0xffff) * 2 ** 32 + low! !== offset / SECTOR) return "misdirected";
  }
  const wanted = new DataView(new ArrayBuffer(page.byteLength));
  stampBlock(wanted, offset, mark);
  generateBlock(wanted);
  let same = 0;
  for (let i = 0; i < page.byteLength; i++) {
    if (page.getUint8(i) === wanted.getUint8(i)) same += 1;
  }
  if (same === page.byteLength) return "intact";
  // A damaged page is still mostly itself; of anything else a byte in 256 fits by chance.
  return same > page.byteLength / 2 ? "damaged" : "lost";
}

/** Whether the first page of a file bears a stamp, of whatever run. */
export function isStamped(page: DataView): boolean {
  const [low, high, run, check] = [0, 4, 8, 12].map((place) => page.getUint32(place, true));
  return check === mixed(low!, high!, run!);
}

/** A 32-bit mix of the three numbers; no allocation, as it is made for every page written. */
function mixed(low: number, high: number, run: number): number {
  let word = 0x9e3779b9;
  for (let i = 0; i < 3; i++) {
    word ^= i === 0 ? low : i === 1 ? high : run;
    word = Math.imul(word ^ (word >>> 16), 0x85ebca6b);
    word = Math.imul(word ^ (word >>> 13), 0xc2b2ae35);
  }
  return (word ^ (word >>> 16)) >>> 0;
}
