import type { Grid } from "./grid";
import type { SitePrior } from "./prior";
import type { Trial } from "./trial";

/**
 * Several sites that each carry less than the ledger says, and how well that explains what was seen:
 * their limits are not known, so all are gone through on the grid. A rig runs at the least limit in
 * it. Placing the limits from the lowest up, each rig is settled by the first of its sites that is
 * placed: that makes the sum over all limits one pass over the grid for each order of placing, not
 * one for each combination of limits.
 */
export interface FaultSet {
  /** Which sites, by number, rising. */
  sites: readonly number[];
  /** Logarithm of the probability of what was seen, times that of the set, against the empty one's. */
  weight: number;
}

/** What the passes over the grid need of the bench. */
export interface Bench {
  grid: Grid;
  trials: readonly Trial[];
  priors: readonly SitePrior[];
  /** Of each trial, which sites stand in it. */
  standsIn: readonly ReadonlySet<number>[];
}

/** The likelihood of each trial without any fault, and of each subset of faults at each place. */
interface Pass {
  size: number;
  /** By subset of the sites: the product of the trials that have just these of them. */
  factors: { mask: number; values: Float64Array }[];
  /** Logarithm of what was taken out of the factors to keep them in range. */
  scale: number;
  /** Of each trial, the subset of the sites in it. */
  masks: number[];
}

function prepare({ trials, standsIn, grid }: Bench, sites: readonly number[]): Pass {
  const size = 2 ** sites.length;
  const factors = new Map<number, Float64Array>();
  const last = grid.rates.length - 1;
  let scale = 0;
  const masks = trials.map((trial, t) => {
    let mask = 0;
    sites.forEach((site, k) => {
      if (standsIn[t]!.has(site)) mask |= 1 << k;
    });
    if (mask === 0) scale += Math.log(trial.likelihood[last]!);
    else {
      const { top } = trial;
      scale += Math.log(top);
      const factor = factors.get(mask) ?? new Float64Array(last + 1).fill(1);
      factors.set(mask, factor);
      for (let i = 0; i <= last; i++) factor[i]! *= trial.likelihood[i]! / top;
    }
    return mask;
  });
  return {
    ...{ size, scale, masks },
    factors: [...factors].map(([one, values]) => ({ mask: one, values })),
  };
}

/** The product of all trials that are settled when `placed` are and `now` come to a place. */
function settledBy(factors: Pass["factors"], placed: number, now: number, i: number): number {
  let product = 1;
  for (const { mask, values } of factors)
    if ((mask & now) !== 0 && (mask & placed) === 0) product *= values[i]!;
  return product;
}

/** How well a set of faults explains what was seen. */
export function weigh(bench: Bench, sites: readonly number[]): FaultSet {
  const pass = prepare(bench, sites);
  const { size, factors, scale } = pass;
  const odds = sites.reduce((sum, site) => sum + Math.log(bench.priors[site]!.odds), 0);
  if (sites.length === 0) return { sites, weight: scale };
  const ahead = forward(bench, sites, size, factors);
  const total = ahead[ahead.length - 1]![size - 1]!;
  return { sites, weight: odds + scale + Math.log(total + 1e-300) };
}

/** Probability of having placed each subset below each place, with all that this settles. */
function forward(
  { priors, grid }: Bench,
  sites: readonly number[],
  size: number,
  factors: Pass["factors"],
): Float64Array[] {
  const count = grid.rates.length;
  const ahead = Array.from({ length: count + 1 }, () => new Float64Array(size));
  ahead[0]![0] = 1;
  for (let i = 0; i < count; i++) {
    const [now, next] = [ahead[i]!, ahead[i + 1]!];
    for (let placed = 0; placed < size; placed++) {
      if (now[placed] === 0) continue;
      const free = size - 1 - placed;
      // Every subset of what is not yet placed, the empty one too.
      for (let some = free; ; some = (some - 1) & free) {
        let chance = now[placed]!;
        for (let k = 0; k < sites.length && chance > 0; k++)
          if (some & (1 << k)) chance *= priors[sites[k]!]!.density[i]!;
        if (chance > 0) {
          if (some) chance *= settledBy(factors, placed, some, i);
          next[placed | some]! += chance;
        }
        if (some === 0) break;
      }
    }
  }
  return ahead;
}

/**
 * Limits of a set of faults as they may well be together, given what was seen: one place of the grid
 * for each site.
 *
 * @param draws for each of them a number from 0 to 1 a site, which decides among what is possible
 * @returns one for each draw
 */
export function drawLimits(
  bench: Bench,
  sites: readonly number[],
  draws: readonly (readonly number[])[],
): Map<number, number>[] {
  const { priors, grid } = bench;
  const { size, factors } = prepare(bench, sites);
  const ahead = forward(bench, sites, size, factors);
  return draws.map((chances) => {
    const limits = new Map<number, number>();
    let [open, below] = [size - 1, grid.rates.length];
    // From the highest limit down: where it lies, and which sites it is.
    for (let step = 0; open !== 0; step++) {
      const options: { i: number; some: number; chance: number }[] = [];
      let total = 0;
      for (let i = 0; i < below; i++) {
        for (let some = open; some !== 0; some = (some - 1) & open) {
          let chance = ahead[i]![open & ~some]!;
          for (let k = 0; k < sites.length && chance > 0; k++)
            if (some & (1 << k)) chance *= priors[sites[k]!]!.density[i]!;
          if (chance > 0) chance *= settledBy(factors, open & ~some, some, i);
          if (chance > 0) options.push({ i, some, chance });
          total += chance;
        }
      }
      let left = total * (chances[step] ?? 0.5);
      const taken = options.find(({ chance }) => (left -= chance) <= 0) ?? options.at(-1);
      if (!taken) break;
      sites.forEach((site, k) => {
        if (taken.some & (1 << k)) limits.set(site, taken.i);
      });
      open &= ~taken.some;
      below = taken.i;
    }
    return limits;
  });
}

/** Of one trial: how much of its probability falls to each cause, were just these sites at fault. */
export interface Shares {
  /** By number of the site: at which places it was the limit. */
  sites: Map<number, Float64Array>;
  /** By what the ledger puts it down to, in the order of the trial's own list. */
  asDesigned: number[];
  odd: number;
  /** How likely what was seen is on the whole, as an average. */
  fit: number;
}

/** Who holds each trial back, given a set of faults; the shares of a trial sum to 1. */
export function sharesOf(bench: Bench, sites: readonly number[]): Shares[] {
  const { trials, grid, priors } = bench;
  const last = grid.rates.length - 1;
  const { size, factors, masks } = prepare(bench, sites);
  const shares = trials.map((trial): Shares => ({
    sites: new Map(),
    asDesigned: trial.ledger.by.map(() => 0),
    odd: 0,
    fit: 0,
  }));
  /** Divides a trial that is settled at a place among those that may have settled it. */
  const divide = (t: number, i: number, now: number, chance: number) => {
    const trial = trials[t]!;
    const share = shares[t]!;
    const per = chance / trial.likelihood[i]!;
    share.fit += chance * trial.likelihood[i]!;
    share.odd += per * trial.odd[i]!;
    trial.asDesigned.forEach((part, j) => (share.asDesigned[j]! += per * part[i]!));
    const here = sites.filter((_, k) => now & masks[t]! & (1 << k));
    for (const site of here) {
      const at = share.sites.get(site) ?? new Float64Array(last + 1);
      at[i]! += (per * trial.limited[i]!) / here.length;
      share.sites.set(site, at);
    }
  };
  if (sites.length > 0) {
    const ahead = forward(bench, sites, size, factors);
    const behind = new Float64Array(size);
    behind[size - 1] = 1;
    const total = ahead[last + 1]![size - 1]! + 1e-300;
    for (let i = last; i >= 0; i--) {
      const before = behind.slice();
      behind.fill(0);
      for (let placed = 0; placed < size; placed++) {
        const free = size - 1 - placed;
        for (let some = free; ; some = (some - 1) & free) {
          let chance = before[placed | some]!;
          for (let k = 0; k < sites.length && chance > 0; k++)
            if (some & (1 << k)) chance *= priors[sites[k]!]!.density[i]!;
          if (chance > 0 && some) chance *= settledBy(factors, placed, some, i);
          behind[placed]! += chance;
          const whole = (chance * ahead[i]![placed]!) / total;
          if (some && whole > 1e-12)
            masks.forEach((mask, t) => {
              if ((mask & some) !== 0 && (mask & placed) === 0) divide(t, i, some, whole);
            });
          if (some === 0) break;
        }
      }
    }
  }
  masks.forEach((mask, t) => {
    if (mask === 0) divide(t, last, 0, 1);
  });
  return shares;
}
