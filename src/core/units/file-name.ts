import { onClocks } from "./day";

/** Longest piece of a name: four of them stay well below what every file system takes (255 bytes). */
const LONGEST = 40;

/** Signs that every system takes in a name, of any script; everything between becomes one hyphen. */
const slug = (text: string): string =>
  [...text.normalize("NFC").replace(/[^\p{L}\p{M}\p{N}.]+/gu, "-")]
    .slice(0, LONGEST)
    .join("")
    .replace(/^[-.]+|[-.]+$/g, "")
    .toLowerCase();

/**
 * A file's name, without its ending, that says what is in it: "which-enclosure_serac_haul-read_2026-11-30".
 * Pieces that say nothing are left out.
 */
export const fileName = (...pieces: readonly string[]): string =>
  pieces.map(slug).filter(Boolean).join("_") || "nerrit";

/** The day of an instant as it stands in a file's name, by the clocks of where Nerrit runs. @param at ISO 8601 */
export const dayOfFile = (at: string): string => onClocks(at).slice(0, 10);
