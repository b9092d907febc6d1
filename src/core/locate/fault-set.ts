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

/** What placing some sites at one place settles, for each place of the grid. */
interface Pass {
  size: number;
  pairs: Pairs;
  /**
   * By place and pair: the probability that just these sites have their limit there, times that of all
   * trials which that settles.
   */
  settling: Float64Array[];
  /** Logarithm of what was taken out of it to keep it in range. */
  scale: number;
  /** Of each trial, the subset of the sites in it. */
  masks: number[];
}

/** Every subset that may be placed already, with every one that may come next. */
interface Pairs {
  placed: number[];
  next: number[];
}

/** No trial counts for less: products of all of them stay far from the smallest number there is. */
const LEAST = 1e-12;

const pairsBySize = new Map<number, Pairs>();

function pairsOf(size: number): Pairs {
  const known = pairsBySize.get(size);
  if (known) return known;
  const pairs: Pairs = { placed: [], next: [] };
  for (let placed = 0; placed < size; placed++) {
    const free = size - 1 - placed;
    for (let next = free; next !== 0; next = (next - 1) & free) {
      pairs.placed.push(placed);
      pairs.next.push(next);
    }
  }
  pairsBySize.set(size, pairs);
  return pairs;
}

function prepare({ trials, standsIn, grid, priors }: Bench, sites: readonly number[]): Pass {
  const size = 2 ** sites.length;
  const factors = new Map<number, Float64Array>();
  const count = grid.rates.length;
  let scale = 0;
  const masks = trials.map((trial, t) => {
    let mask = 0;
    sites.forEach((site, k) => {
      if (standsIn[t]!.has(site)) mask |= 1 << k;
    });
    if (mask === 0) scale += Math.log(trial.likelihood[count - 1]!);
    else {
      const { top, likelihood } = trial;
      scale += Math.log(top);
      const factor = factors.get(mask) ?? new Float64Array(count).fill(1);
      factors.set(mask, factor);
      for (let i = 0; i < count; i++) factor[i]! *= Math.max(LEAST, likelihood[i]! / top);
    }
    return mask;
  });
  const pairs = pairsOf(size);
  const all = [...factors];
  // By what is placed: the trials that have none of it in them, and so are not settled yet.
  const open = Array.from({ length: size }, (_, placed) =>
    all.flatMap(([mask, values]) => ((mask & placed) === 0 ? [values] : [])),
  );
  const densities = sites.map((site) => priors[site]!.density);
  const together = new Float64Array(size);
  const unsettled = new Float64Array(size);
  const settling = Array.from({ length: count }, (_, i) => {
    const row = new Float64Array(pairs.next.length);
    if (densities.every((density) => density[i] === 0)) return row;
    together[0] = 1;
    for (let subset = 0; subset < size; subset++) {
      if (subset > 0) {
        const lowest = 31 - Math.clz32(subset & -subset);
        together[subset] = together[subset & (subset - 1)]! * densities[lowest]![i]!;
      }
      let product = 1;
      for (const values of open[subset]!) product *= values[i]!;
      unsettled[subset] = product;
    }
    for (let p = 0; p < row.length; p++) {
      const [placed, next] = [pairs.placed[p]!, pairs.next[p]!];
      // What is settled now is what was not before, without what is not after.
      if (together[next]! > 0)
        row[p] = (together[next]! * unsettled[placed]!) / unsettled[placed | next]!;
    }
    return row;
  });
  return { size, pairs, settling, scale, masks };
}

/** How well a set of faults explains what was seen. */
export function weigh(bench: Bench, sites: readonly number[]): FaultSet {
  const pass = prepare(bench, sites);
  const odds = sites.reduce((sum, site) => sum + Math.log(bench.priors[site]!.odds), 0);
  if (sites.length === 0) return { sites, weight: pass.scale };
  const total = forward(pass).at(-1)![pass.size - 1]!;
  return { sites, weight: odds + pass.scale + Math.log(total + 1e-300) };
}

/** Probability of having placed each subset below each place, with all that this settles. */
function forward({ size, pairs, settling }: Pass): Float64Array[] {
  let now = new Float64Array(size);
  now[0] = 1;
  const ahead = [now];
  for (const row of settling) {
    const next = now.slice();
    for (let p = 0; p < row.length; p++) {
      const placed = pairs.placed[p]!;
      next[placed | pairs.next[p]!]! += now[placed]! * row[p]!;
    }
    ahead.push(next);
    now = next;
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
  const pass = prepare(bench, sites);
  const { size, pairs, settling } = pass;
  const ahead = forward(pass);
  // Pairs by what is placed after them.
  const into = Array.from({ length: size }, () => [] as number[]);
  pairs.next.forEach((next, p) => into[pairs.placed[p]! | next]!.push(p));
  return draws.map((chances) => {
    const limits = new Map<number, number>();
    let [open, below] = [size - 1, bench.grid.rates.length];
    // From the highest limit down: where it lies, and which sites it is.
    for (let step = 0; open !== 0; step++) {
      const options: { i: number; some: number; chance: number }[] = [];
      let total = 0;
      for (let i = 0; i < below; i++) {
        for (const p of into[open]!) {
          const chance = ahead[i]![pairs.placed[p]!]! * settling[i]![p]!;
          if (chance > 0) options.push({ i, some: pairs.next[p]!, chance });
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

/** Chances less than this change no share. */
const NOTHING = 1e-12;

/** Who holds each trial back, given a set of faults; the shares of a trial sum to 1. */
export function sharesOf(bench: Bench, sites: readonly number[]): Shares[] {
  const { trials, grid } = bench;
  const count = grid.rates.length;
  const pass = prepare(bench, sites);
  const { size, masks } = pass;
  const settledAt = sites.length > 0 ? whenSettled(pass, count) : new Map<number, Float64Array>();
  return trials.map((trial, t): Shares => {
    const share: Shares = {
      sites: new Map(),
      asDesigned: trial.ledger.by.map(() => 0),
      ...{ odd: 0, fit: 0 },
    };
    const mask = masks[t]!;
    const divide = (i: number, now: number, chance: number) => {
      const per = chance / trial.likelihood[i]!;
      share.fit += chance * trial.likelihood[i]!;
      share.odd += per * trial.odd[i]!;
      trial.asDesigned.forEach((part, j) => (share.asDesigned[j]! += per * part[i]!));
      const here = sites.filter((_, k) => now & (1 << k));
      for (const site of here) {
        const at = share.sites.get(site) ?? new Float64Array(count);
        at[i]! += (per * trial.limited[i]!) / here.length;
        share.sites.set(site, at);
      }
    };
    if (mask === 0) divide(count - 1, 0, 1);
    else {
      const chances = settledAt.get(mask)!;
      for (let i = 0; i < count; i++)
        for (let now = 1; now < size; now++) {
          const chance = chances[i * size + now]!;
          if (chance > NOTHING) divide(i, now, chance);
        }
    }
    return share;
  });
}

/**
 * By the subset of sites in a trial: how likely it is settled at each place, and by which of them; by
 * place times the number of subsets, plus the subset.
 */
function whenSettled(pass: Pass, count: number): Map<number, Float64Array> {
  const { size, pairs, settling, masks } = pass;
  const found = new Map(
    masks.filter((mask) => mask !== 0).map((mask) => [mask, new Float64Array(count * size)]),
  );
  const ahead = forward(pass);
  const total = ahead.at(-1)![size - 1]! + 1e-300;
  let behind = new Float64Array(size);
  behind[size - 1] = 1;
  for (let i = count - 1; i >= 0; i--) {
    const row = settling[i]!;
    const before = behind.slice();
    for (let p = 0; p < row.length; p++) {
      const [placed, next] = [pairs.placed[p]!, pairs.next[p]!];
      const chance = behind[placed | next]! * row[p]!;
      if (chance === 0) continue;
      before[placed]! += chance;
      const whole = (chance * ahead[i]![placed]!) / total;
      if (whole <= NOTHING) continue;
      for (const [mask, chances] of found)
        if ((mask & next) !== 0 && (mask & placed) === 0)
          chances[i * size + (mask & next)]! += whole;
    }
    behind = before;
  }
  return found;
}
