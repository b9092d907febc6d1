/** Entropy of some chances, bits; they need not sum to 1. */
export function entropyOf(chances: readonly number[]): number {
  const total = chances.reduce((sum, chance) => sum + chance, 0);
  return chances.reduce(
    (sum, chance) => (chance > 0 ? sum - (chance / total) * Math.log2(chance / total) : sum),
    0,
  );
}
