import { unlimited, type Grid } from "../likelihood/grid";
import type { SitePrior } from "./prior";
import type { Trial } from "../likelihood/trial";

/** What the passes over the grid need of the bench. */
export interface Bench {
  grid: Grid;
  trials: readonly Trial[];
  priors: readonly SitePrior[];
  /** Of each trial, which sites stand in it. */
  standsIn: readonly ReadonlySet<number>[];
}

/** A way through the grid from the lowest place up, with what placing some sites at each place settles. */
export interface Ordering {
  size: number;
  pairs: Pairs;
  /** Places of the grid, the least limit first. */
  order: Int32Array;
  /** Logarithm of what was taken out of the probabilities to keep them in range. */
  scale: number;
  /** Of each trial, the subset of the sites in it. */
  masks: number[];
  /**
   * By pair: the probability that just these sites have their limit at a place, times that of all trials
   * which that settles.
   *
   * @param row where it is written
   * @returns whether any of them can have its limit there; nothing is written where none can
   */
  settling(place: number, row: Float64Array): boolean;
}

/** Every subset that may be placed already, with every one that may come next. */
interface Pairs {
  placed: Int32Array;
  next: Int32Array;
}

/** No trial counts for less: products of all of them stay far from the smallest number there is. */
const LEAST = 1e-12;

const pairsBySize = new Map<number, Pairs>();

function pairsOf(size: number): Pairs {
  const known = pairsBySize.get(size);
  if (known) return known;
  const found: [placed: number, next: number][] = [];
  for (let placed = 0; placed < size; placed++) {
    const free = size - 1 - placed;
    for (let next = free; next !== 0; next = (next - 1) & free) found.push([placed, next]);
  }
  const pairs = {
    placed: Int32Array.from(found, ([placed]) => placed),
    next: Int32Array.from(found, ([, next]) => next),
  };
  pairsBySize.set(size, pairs);
  return pairs;
}

/** Of each trial how likely it is at each place against where it is likeliest, worked out once. */
const relative = new WeakMap<Float64Array, Float64Array>();
function relativeOf({ likelihood, top }: Trial): Float64Array {
  let found = relative.get(likelihood);
  if (!found)
    relative.set(likelihood, (found = likelihood.map((value) => Math.max(LEAST, value / top))));
  return found;
}

export function prepare(
  { trials, standsIn, grid, priors }: Bench,
  sites: readonly number[],
): Ordering {
  const size = 2 ** sites.length;
  const factors = new Map<number, Float64Array>();
  const { order } = grid;
  let scale = 0;
  const masks = trials.map((trial, t) => {
    let mask = 0;
    sites.forEach((site, k) => {
      if (standsIn[t]!.has(site)) mask |= 1 << k;
    });
    if (mask === 0) scale += Math.log(trial.likelihood[unlimited(grid)]!);
    else {
      scale += Math.log(trial.top);
      const factor = factors.get(mask);
      const own = relativeOf(trial);
      if (factor) for (let i = 0; i < own.length; i++) factor[i]! *= own[i]!;
      else factors.set(mask, own.slice());
    }
    return mask;
  });
  const pairs = pairsOf(size);
  const densities = sites.map((site) => priors[site]!.density);
  const together = new Float64Array(size);
  const within = new Float64Array(size);
  const settling = (place: number, row: Float64Array): boolean => {
    if (densities.every((density) => density[place] === 0)) return false;
    together[0] = 1;
    for (let subset = 1; subset < size; subset++) {
      const lowest = 31 - Math.clz32(subset & -subset);
      together[subset] = together[subset & (subset - 1)]! * densities[lowest]![place]!;
    }
    productsWithin(within, factors, place);
    for (let p = 0; p < row.length; p++) {
      const placed = pairs.placed[p]!;
      const next = pairs.next[p]!;
      // What is settled now is what was not before, without what is not after.
      row[p] =
        together[next]! > 0
          ? (together[next]! * within[size - 1 - placed]!) / within[size - 1 - (placed | next)]!
          : 0;
    }
    return true;
  };
  return { size, pairs, order, scale, masks, settling };
}

/**
 * For every subset of the sites the product over the trials whose sites lie within it: those that are
 * not settled while just the others are placed. Each site in turn takes over what holds without it.
 */
function productsWithin(
  within: Float64Array,
  factors: ReadonlyMap<number, Float64Array>,
  place: number,
): void {
  within.fill(1);
  for (const [mask, values] of factors) within[mask] = values[place]!;
  for (let site = 1; site < within.length; site <<= 1)
    for (let subset = site; subset < within.length; subset = (subset + 1) | site)
      within[subset]! *= within[subset ^ site]!;
}

/** From the probability of having placed each subset below a place to that of having done so with it. */
export function advance(now: Float64Array, row: Float64Array, { placed, next }: Pairs): void {
  // From the largest down, so that what comes of a subset is taken before anything is added to it.
  for (let p = row.length - 1; p >= 0; p--)
    now[placed[p]! | next[p]!]! += now[placed[p]!]! * row[p]!;
}

/** What placing sites settles, for each place in their order; null where none can have its limit there. */
export function rowsOf({ order, pairs, settling }: Ordering): (Float64Array | null)[] {
  return Array.from(order, (place) => {
    const row = new Float64Array(pairs.next.length);
    return settling(place, row) ? row : null;
  });
}

/** Probability of having placed each subset below each place, with all that this settles. */
export function forward(
  { size, pairs }: Ordering,
  rows: readonly (Float64Array | null)[],
): Float64Array[] {
  let now = new Float64Array(size);
  now[0] = 1;
  const ahead = [now];
  for (const row of rows) {
    if (row) {
      now = now.slice();
      advance(now, row, pairs);
    }
    ahead.push(now);
  }
  return ahead;
}
