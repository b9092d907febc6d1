/** Rounds that are looked at. */
export const WINDOW = 5;
const RANGE = 0.2;
const SLOPE = 0.1;

/**
 * Whether the last five rounds are steady: the largest and the smallest lie within 20 % of their mean,
 * and the line through them rises or falls by no more than 10 % of it (SNIA Solid State Storage
 * Performance Test Specification, steady state).
 *
 * @param rounds one figure a round, the latest last
 */
export function isSteady(rounds: readonly number[]): boolean {
  if (rounds.length < WINDOW) return false;
  const last = rounds.slice(-WINDOW);
  const mean = last.reduce((sum, value) => sum + value, 0) / WINDOW;
  if (mean <= 0) return false;
  const range = Math.max(...last) - Math.min(...last);
  const middle = (WINDOW - 1) / 2;
  const slope =
    last.reduce((sum, value, i) => sum + (i - middle) * value, 0) /
    last.reduce((sum, _, i) => sum + (i - middle) ** 2, 0);
  return range <= RANGE * mean && Math.abs(slope) * (WINDOW - 1) <= SLOPE * mean;
}
