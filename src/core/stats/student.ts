import { gammaln, probit } from "simple-statistics";

/** Steps at most of either iteration; they come to rest within a dozen or two. */
const MOST_STEPS = 200;
const EXACT = 1e-14;

/**
 * Quantile of Student's t distribution, by Newton's method from the normal quantile: the distribution is
 * concave above its middle and has the heavier tail, so each step comes nearer and none goes too far.
 *
 * @param p probability in (0, 1)
 * @param dof degrees of freedom, above 0 (need not be whole)
 * @throws RangeError for a probability or degrees of freedom outside these
 */
export function studentQuantile(p: number, dof: number): number {
  if (!(p > 0 && p < 1)) throw new RangeError(`A probability lies between 0 and 1, not at ${p}.`);
  if (!(dof > 0)) throw new RangeError(`Degrees of freedom are above 0, not ${dof}.`);
  if (p < 0.5) return -studentQuantile(1 - p, dof);
  if (!Number.isFinite(dof)) return probit(p);
  const scale = Math.exp(gammaln((dof + 1) / 2) - gammaln(dof / 2)) / Math.sqrt(dof * Math.PI);
  let t = Math.max(0, probit(p) * (1 - 1e-3));
  for (let step = 0; step < MOST_STEPS; step++) {
    const below = 1 - incompleteBeta(dof / (dof + t * t), dof / 2, 1 / 2) / 2;
    const density = scale * (1 + (t * t) / dof) ** (-(dof + 1) / 2);
    const next = t + (p - below) / density;
    if (Math.abs(next - t) <= EXACT * Math.max(1, t)) return next;
    t = next;
  }
  return t;
}

/**
 * Probability that Student's t lies further from 0 than a value, to either side (NIST Digital Library of
 * Mathematical Functions, 8.17.1: the regularised incomplete beta function of dof/(dof + t²)).
 *
 * @param dof degrees of freedom, above 0
 */
export const studentTails = (t: number, dof: number): number =>
  Number.isFinite(t) ? incompleteBeta(dof / (dof + t * t), dof / 2, 1 / 2) : 0;

/**
 * Regularised incomplete beta function I_x(a, b), by its continued fraction (NIST Digital Library of
 * Mathematical Functions, 8.17.22), summed up by Lentz's method.
 */
export function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0 || x >= 1) return x <= 0 ? 0 : 1;
  // On the other side of the middle the fraction converges slowly (8.17.4).
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a);
  const front = gammaln(a + b) - gammaln(a) - gammaln(b) + a * Math.log(x) + b * Math.log1p(-x);
  let [c, d] = [1, 1 / (1 - ((a + b) * x) / (a + 1))];
  let fraction = d;
  for (let m = 1; m < MOST_STEPS; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / (1 + even * d);
    c = 1 + even / c;
    fraction *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / (1 + odd * d);
    c = 1 + odd / c;
    fraction *= d * c;
    if (Math.abs(d * c - 1) < EXACT) break;
  }
  return (Math.exp(front) * fraction) / a;
}
