import fc from "fast-check";

/**
 * Values as a property would draw them, small ones among them, to be worked out once for several properties.
 *
 * @param numRuns how many
 */
export function drawn<T>(of: fc.Arbitrary<T>, seed: number, numRuns: number): T[] {
  const all: T[] = [];
  fc.assert(
    fc.property(of, (one) => void all.push(one)),
    { seed, numRuns },
  );
  return all;
}

/** Holds something over all of them; the one in which it does not hold is named by its seed and place. */
export function holdsIn<T>(all: readonly T[], seed: number, check: (one: T, i: number) => void) {
  all.forEach((one, i) => {
    try {
      check(one, i);
    } catch (error) {
      throw new Error(`${i} of seed ${seed}: ${(error as Error).message}`, { cause: error });
    }
  });
}
