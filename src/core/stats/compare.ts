import { sampleVariance } from "simple-statistics";
import type { Repeats } from "./repeats";
import { studentQuantile } from "./student";

/** What may be said of two sets of repeats. */
export type Comparison =
  | { kind: "difference"; change: number }
  | { kind: "same"; change: number }
  | { kind: "unknown"; change: number; why: string };

/** Changes smaller than this share interest nobody, unless the tester says otherwise. */
export const SMALLEST_EFFECT = 0.03;

/**
 * Compares two sets of repeats. A difference is called one only if it is outside both the 95 %
 * interval of the difference (Welch's t) and the smallest effect of interest.
 *
 * @param smallestEffect as a share of `a`'s median
 * @returns change = (b - a) / a, of the medians
 */
export function compareRepeats(
  a: Repeats,
  b: Repeats,
  smallestEffect = SMALLEST_EFFECT,
): Comparison {
  const change = a.median === 0 ? 0 : (b.median - a.median) / a.median;
  if (a.n < 2 || b.n < 2) {
    return { kind: "unknown", change, why: "one run has no interval; repeat it" };
  }
  const va = sampleVariance(a.values) / a.n;
  const vb = sampleVariance(b.values) / b.n;
  const gap = Math.abs(b.mean - a.mean);
  const outside = va + vb === 0 ? gap > 0 : gap > welchHalfWidth(va, vb, a.n, b.n);
  const matters = Math.abs(change) >= smallestEffect;
  return { kind: outside && matters ? "difference" : "same", change };
}

/** Half width of the 95 % interval of a difference of means; Welch-Satterthwaite degrees of freedom. */
function welchHalfWidth(va: number, vb: number, na: number, nb: number): number {
  const dof = (va + vb) ** 2 / (va ** 2 / (na - 1) + vb ** 2 / (nb - 1));
  return studentQuantile(0.975, dof) * Math.sqrt(va + vb);
}
