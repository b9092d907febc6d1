/** Digits of the longest number that is sorted by its value. */
const DIGITS = 15;

/**
 * A key by which names sort as people count, "K2" before "K10", whatever their case and accents.
 * Keys compare as plain text, so that a database can sort by them too.
 */
export const naturalKey = (name: string): string =>
  name
    .normalize("NFKD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/\d+/g, (number) => number.replace(/^0+(?=\d)/, "").padStart(DIGITS, "0"));

/** Sorts things by a name as people count. */
export const byName = <T extends { name: string }>(things: readonly T[]): T[] =>
  things
    .map((thing) => ({ thing, key: naturalKey(thing.name) }))
    .sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0))
    .map(({ thing }) => thing);
