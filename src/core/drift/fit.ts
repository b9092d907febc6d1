import { studentQuantile, studentTails } from "../stats/student";

/** One day of one series: the logarithm of its rate, so that a change is a share whatever the rate is. */
export interface Point {
  /** Which series it belongs to. */
  series: number;
  /** Days since 1970. */
  day: number;
  /** Natural logarithm of the rate. */
  value: number;
}

/** A coefficient of a regression in which each series has a level of its own (fixed effects). */
export interface Estimate {
  value: number;
  /** Its 95 % interval by Student's t. */
  low: number;
  high: number;
  /** Probability that chance alone brings a value this far from 0. */
  p: number;
  /** Sum of the squares that it leaves unexplained. */
  residual: number;
}

/** A change of level at one moment. */
export interface LevelShift extends Estimate {
  /** Last day of the old level, and first day of the new one. */
  dayBefore: number;
  day: number;
  /** The first days of a new level that explain the rates nearly as well (95 %). */
  earliest: number;
  latest: number;
}

/** Days at least before a change and after it: one day alone may have been an odd one. */
const LEAST_DAYS = 2;

/** What two days before a change and two after it in one series tell of it: 1/(1/2 + 1/2). */
const LEAST_WEIGHT = 1;

/** Below this share of a variance, what is left is the error of floating-point numbers. */
const NO_VARIANCE = 1e-12;

/** A regressor that keeps less than this share of its squares beside another one is the same again. */
const NOT_APART = 1e-9;

/** A day after which the level may have changed, with the sums that tell by how much. */
interface Cut {
  /** Points before it. */
  at: number;
  moved: number;
  weight: number;
}

/**
 * Returns the change of level that explains the rates best, over all days on which one may have come (least
 * squares). Its p is multiplied by the number of those days (Bonferroni), as each of them was tried.
 *
 * The days that are nearly as good are those within the bound of the likelihood ratio (Hinkley, "Inference
 * about the change-point in a sequence of random variables", 1970).
 *
 * @returns null where no day has enough on both sides, or nothing is left to tell the noise by
 */
export function levelShift(points: readonly Point[]): LevelShift | null {
  const sorted = points.toSorted((a, b) => a.day - b.day);
  const cuts = cutsOf(sorted);
  if (cuts.length === 0) return null;
  const gain = ({ moved, weight }: Cut) => moved ** 2 / weight;
  const best = cuts.reduce((a, b) => (gain(b) > gain(a) ? b : a));
  const day = sorted[best.at]!.day;
  const [fit] = regression(sorted, [(point) => Number(point.day >= day)]) ?? [];
  const noise = noiseOf(sorted, [(point) => Number(point.day >= day)]);
  if (!fit || !noise) return null;
  const bound = noise.variance * studentQuantile(0.975, noise.dof) ** 2;
  const near = cuts.filter((cut) => gain(best) - gain(cut) <= bound);
  return {
    ...fit,
    p: Math.min(1, fit.p * cuts.length),
    dayBefore: sorted[best.at - 1]!.day,
    day,
    earliest: sorted[near[0]!.at]!.day,
    latest: sorted[near.at(-1)!.at]!.day,
  };
}

/** Every day that has enough before it and after it. @param sorted by the day */
function cutsOf(sorted: readonly Point[]): Cut[] {
  const levels = levelsOf(sorted);
  const days = [...new Set(sorted.map(({ day }) => day))];
  const [second, secondLast] = [days[LEAST_DAYS - 1], days.at(-LEAST_DAYS)];
  if (second === undefined || secondLast === undefined) return [];
  const cuts: Cut[] = [];
  // Days move from after the change to before it, one after another; both sums follow from what moved.
  const before = new Map<number, { n: number; sum: number }>();
  let [moved, weight] = [0, 0];
  sorted.slice(0, -1).forEach(({ series, value, day }, i) => {
    const { n, mean } = levels.get(series)!;
    const own = before.get(series) ?? { n: 0, sum: 0 };
    before.set(series, own);
    weight += (-own.n * (n - own.n) + (own.n + 1) * (n - own.n - 1)) / n;
    own.n += 1;
    own.sum += value - mean;
    moved += value - mean;
    const next = sorted[i + 1]!.day;
    const isCut = next > day && day >= second && next <= secondLast;
    if (isCut && weight >= LEAST_WEIGHT - NO_VARIANCE) cuts.push({ at: i + 1, moved, weight });
  });
  return cuts;
}

/**
 * Returns the straight line that explains the rates best.
 *
 * @returns its slope a day; null where nothing is left to tell the noise by
 */
export function trend(points: readonly Point[]): Estimate | null {
  const [one] = regression(points, [({ day }) => day]) ?? [];
  return one ?? null;
}

type Regressor = (point: Point) => number;

/**
 * Returns the coefficients of one or two regressors, each series with a level of its own.
 *
 * @returns null where the regressors cannot be told apart, or nothing is left to tell the noise by
 */
export function regression(
  points: readonly Point[],
  regressors: readonly Regressor[],
): Estimate[] | null {
  const noise = noiseOf(points, regressors);
  if (!noise) return null;
  const { variance, dof, residual } = noise;
  return noise.fitted.map(({ value, weight }) => {
    const error = Math.sqrt(variance / weight);
    const half = studentQuantile(0.975, dof) * error;
    const p = value === 0 ? 1 : studentTails(value / error, dof);
    return { value, low: value - half, high: value + half, p, residual };
  });
}

/**
 * How far rates scatter about a fit. Rates of one day share that day's circumstances: what scatters is the
 * day, and there are no more values to tell the noise by than days. The larger of the variance of days and
 * that of single rates is taken, with the fewer degrees of freedom.
 */
function noiseOf(points: readonly Point[], regressors: readonly Regressor[]) {
  const y = within(points, ({ value }) => value);
  const x = regressors.map((of) => within(points, of));
  const fitted = x.length === 1 ? fitOne(x[0]!, y) : fitTwo(x[0]!, x[1]!, y);
  const series = new Set(points.map((point) => point.series)).size;
  const byDay = new Map<number, { n: number; sum: number }>();
  const left = y.map((value, i) =>
    fitted ? fitted.reduce((rest, one, j) => rest - one.value * x[j]![i]!, value) : value,
  );
  points.forEach(({ day }, i) => {
    const own = byDay.get(day) ?? { n: 0, sum: 0 };
    byDay.set(day, { n: own.n + 1, sum: own.sum + left[i]! });
  });
  const single = points.length - series - regressors.length;
  const dof = Math.min(single, byDay.size - 1 - regressors.length);
  if (!fitted || dof < 1) return null;
  const residual = dot(left, left);
  const ofDays = [...byDay.values()].reduce((sum, { n, sum: all }) => sum + all ** 2 / n, 0);
  const variance = Math.max(residual / single, ofDays / dof, (dot(y, y) * NO_VARIANCE) / dof);
  return { fitted, variance: Math.max(variance, Number.MIN_VALUE), dof, residual };
}

interface Fitted {
  value: number;
  /** Squares of the regressor that no other explains. */
  weight: number;
}

function fitOne(a: readonly number[], y: readonly number[]): Fitted[] | null {
  const weight = dot(a, a);
  return weight < NO_VARIANCE ? null : [{ value: dot(a, y) / weight, weight }];
}

function fitTwo(a: readonly number[], b: readonly number[], y: readonly number[]): Fitted[] | null {
  const [aa, bb, ab, ay, by] = [dot(a, a), dot(b, b), dot(a, b), dot(a, y), dot(b, y)];
  if (aa < NO_VARIANCE || bb < NO_VARIANCE) return null;
  const [aLeft, bLeft] = [aa - ab ** 2 / bb, bb - ab ** 2 / aa];
  if (aLeft <= aa * NOT_APART) return null;
  return [
    { value: (ay - (ab / bb) * by) / aLeft, weight: aLeft },
    { value: (by - (ab / aa) * ay) / bLeft, weight: bLeft },
  ];
}

const dot = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, value, i) => sum + value * b[i]!, 0);

function levelsOf(points: readonly Point[]): Map<number, { n: number; mean: number }> {
  const levels = new Map<number, { n: number; mean: number }>();
  for (const { series, value } of points) {
    const level = levels.get(series) ?? { n: 0, mean: 0 };
    level.n += 1;
    level.mean += (value - level.mean) / level.n;
    levels.set(series, level);
  }
  return levels;
}

/** Values less the mean of their series. */
function within(points: readonly Point[], of: Regressor): number[] {
  const levels = levelsOf(points.map((point) => ({ ...point, value: of(point) })));
  return points.map((point) => of(point) - levels.get(point.series)!.mean);
}
