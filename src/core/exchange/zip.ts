import { zipSync } from "fflate";

/** The first day that a zip can name; the same files give the same zip, whenever they are packed. */
const MTIME = new Date("1980-01-01T12:00:00");

/**
 * Packs files, by their paths, into a zip.
 *
 * @returns its bytes, which follow from the files alone
 */
export const zipOf = (files: Record<string, Uint8Array>): Uint8Array =>
  zipSync(files, { level: 6, mtime: MTIME });
