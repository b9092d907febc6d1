/** Seeded randomness: the same seed gives the same bench, on every machine. */
export type Random = () => number;

/**
 * A small, well-mixed generator of numbers in [0, 1) (mulberry32: one 32-bit state, full period).
 *
 * @param seed any 32-bit integer
 */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = state;
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** A standard normal number (Box and Muller, 1958). */
export function normal(random: Random): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}

/**
 * Correlated noise of unit variance: each value keeps a share of the one before (an AR(1) process),
 * as throughput does over tenths of a second.
 *
 * @param keep share kept, in [0, 1)
 */
export function correlated(random: Random, keep: number): () => number {
  let value = normal(random);
  return () => {
    value = keep * value + Math.sqrt(1 - keep ** 2) * normal(random);
    return value;
  };
}

/** A number that follows from a text (FNV-1a, 32 bits): streams of chance that do not disturb each other. */
export function hash(text: string): number {
  let value = 0x811c9dc5;
  for (const char of text) value = Math.imul(value ^ char.codePointAt(0)!, 0x01000193);
  return value >>> 0;
}
