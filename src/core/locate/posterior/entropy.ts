/** Entropy of some chances, bits; they need not sum to 1. */
export function entropyOf(chances: ArrayLike<number>): number {
  let [total, bits] = [0, 0];
  for (let i = 0; i < chances.length; i++) total += chances[i]!;
  for (let i = 0; i < chances.length; i++) {
    const share = chances[i]! / total;
    if (share > 0) bits -= share * Math.log2(share);
  }
  return bits;
}
