/**
 * What an ATA drive says of itself in its IDENTIFY DEVICE data: 256 words of 16 bits.
 * Source: ATA/ATAPI Command Set (ACS), IDENTIFY DEVICE data, words 76 and 77.
 */

/** Speeds of a SATA link by the bit of word 76 that claims them, as the kernel writes them. */
const SPEEDS: [bit: number, speed: string][] = [
  [3, "6.0 Gbps"],
  [2, "3.0 Gbps"],
  [1, "1.5 Gbps"],
];
const SATA_CAPABILITIES = 76;

/** The words that the kernel prints in hexadecimal, eight to a line (ABI: sysfs-ata, id). */
export const wordsOf = (text: string): number[] =>
  text
    .trim()
    .split(/\s+/)
    .filter((word) => /^[\da-f]{4}$/i.test(word))
    .map((word) => parseInt(word, 16));

/** Where IDENTIFY DEVICE data begins in the ATA Information page (SAT: page 89h), bytes. */
const ATA_INFORMATION_HEAD = 60;

/** The words in a SCSI disk's ATA Information page (ABI: vpd_pg89); the drive is not SATA without. */
export function wordsOfPage(page: Uint8Array): number[] {
  const words: number[] = [];
  for (let at = ATA_INFORMATION_HEAD; at + 1 < page.length; at += 2) {
    words.push(page[at]! | (page[at + 1]! << 8));
  }
  return words;
}

/** The fastest SATA speed that a drive supports; null where it does not say (word 76 is 0 or all ones). */
export function fastestSata(words: readonly number[]): string | null {
  const word = words[SATA_CAPABILITIES];
  if (!word || word === 0xffff) return null;
  return SPEEDS.find(([bit]) => word & (1 << bit))?.[1] ?? null;
}
