/**
 * Reads a share, as people write it: "85%", "85 %", "0.85".
 *
 * @param text the sign before the decimals may be a comma
 * @returns the share, 1 for the whole; NaN where the text is none
 */
export function shareFrom(text: string): number {
  const match = /^\s*(\d+(?:[.,]\d+)?)\s*(%?)\s*$/.exec(text);
  if (!match) return Number.NaN;
  const value = Number(match[1]!.replace(",", "."));
  // Not times a hundredth: 85 % is 0.85 exactly as it is typed.
  return match[2] === "%" ? value / 100 : value;
}
