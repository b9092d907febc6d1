/** Lags up to which neighbouring values may have to do with one another. */
const MOST_LAGS = 64;
/** 1.4826 times the median distance from the median is the standard deviation of a normal spread. */
const NORMAL = 1.4826;

/**
 * How restless a series is: the variance that means of many values have, times their number (the
 * long-run variance). Throughput is correlated over tenths of a second, and a mean of n correlated
 * values is less certain than one of n independent ones.
 *
 * By the differences of values k apart, whose spread grows with k as long as there is a correlation
 * (the variogram: Cressie and Hawkins, "Robust estimation of the variogram", 1980, here with the
 * median absolute deviation): single dips, a few changes of level and a slow drift do not disturb it.
 *
 * @returns 0 for fewer than four values
 */
export function longRunVariance(values: Float64Array): number {
  const lags = Math.min(MOST_LAGS, Math.max(1, Math.floor(values.length / 8)));
  if (values.length < 4) return 0;
  // Every lag at first, then ever fewer of them, each standing for those up to the next.
  const looked: { lag: number; half: number }[] = [];
  for (let lag = 1; lag <= lags; lag = Math.max(lag + 1, Math.round(lag * 1.25)))
    looked.push({ lag, half: differenceVariance(values, lag) / 2 });
  const far = Float64Array.from(looked.slice(looked.length >> 1), ({ half }) => half);
  const whole = medianOf(far);
  let sum = whole;
  for (const [i, { lag, half }] of looked.entries()) {
    // Once the correlation is gone, what is left of it is chance.
    if (half >= whole) break;
    sum += 2 * (whole - half) * ((looked[i + 1]?.lag ?? lag + 1) - lag);
  }
  return sum;
}

/** Share of the variance that two groups explain where there are two: of one normal group it is 0.64. */
const TWO_GROUPS = 0.8;

/**
 * The same for a series that may go up and down between two levels: where its values fall into two
 * groups, each is taken from the middle of its own (the groups that explain most of the variance:
 * Otsu, "A threshold selection method from gray-level histograms", 1979).
 */
export function noiseOf(values: Float64Array): number {
  const sorted = Float64Array.from(values).sort();
  const n = sorted.length;
  const whole = sorted.reduce((sum, value) => sum + value, 0);
  const mean = whole / n;
  const variance = sorted.reduce((sum, value) => sum + (value - mean) ** 2, 0);
  let [best, split, below] = [0, 0, 0];
  for (let i = 1; i < n; i++) {
    below += sorted[i - 1]!;
    const between = (below - i * mean) ** 2 * (n / (i * (n - i)));
    if (between > best) [best, split] = [between, i];
  }
  if (best < TWO_GROUPS * variance || split === 0) return longRunVariance(values);
  const border = sorted[split]!;
  const [low, high] = [medianOf(sorted.slice(0, split)), medianOf(sorted.slice(split))];
  return longRunVariance(values.map((value) => value - (value < border ? low : high)));
}

/** Variance of the differences of values so far apart, robustly. */
function differenceVariance(values: Float64Array, lag: number): number {
  const n = values.length - lag;
  const differences = new Float64Array(n);
  for (let i = 0; i < n; i++) differences[i] = values[i + lag]! - values[i]!;
  return robustVariance(differences);
}

/** Changes the order of what it is given. */
function robustVariance(values: Float64Array): number {
  const centre = medianOf(values);
  for (let i = 0; i < values.length; i++) values[i] = Math.abs(values[i]! - centre);
  return (NORMAL * medianOf(values)) ** 2;
}

/** The median; changes the order of what it is given. */
export function medianOf(values: Float64Array): number {
  if (values.length === 0) return NaN;
  values.sort();
  const middle = values.length >> 1;
  return values.length % 2 === 1 ? values[middle]! : (values[middle - 1]! + values[middle]!) / 2;
}

/** Each value as the median of those round it: single dips and spikes are gone, edges stay. */
export function runningMedian(values: Float64Array, reach: number): Float64Array {
  const smooth = new Float64Array(values.length);
  const window: number[] = [];
  for (let i = 0; i < values.length; i++) {
    // Near an end the window shrinks on both sides, so that an edge there does not move.
    const near = Math.min(reach, i, values.length - 1 - i);
    window.length = 0;
    for (let k = i - near; k <= i + near; k++) {
      let place = window.length;
      for (; place > 0 && window[place - 1]! > values[k]!; place--)
        window[place] = window[place - 1]!;
      window[place] = values[k]!;
    }
    smooth[i] = window[near]!;
  }
  return smooth;
}
