import { unlimited } from "../likelihood/grid";
import { advance, forward, prepare, rowsOf, type Bench, type Ordering } from "./orderings";

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

/** How well a set of faults explains what was seen. */
export function weigh(bench: Bench, sites: readonly number[]): FaultSet {
  const ordering = prepare(bench, sites);
  const odds = sites.reduce((sum, site) => sum + Math.log(bench.priors[site]!.odds), 0);
  if (sites.length === 0) return { sites, weight: ordering.scale };
  const { size, pairs, order } = ordering;
  const row = new Float64Array(pairs.next.length);
  const now = new Float64Array(size);
  now[0] = 1;
  for (const place of order) if (ordering.settling(place, row)) advance(now, row, pairs);
  return { sites, weight: odds + ordering.scale + Math.log(now[size - 1]! + 1e-300) };
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
  const ordering = prepare(bench, sites);
  const { size, pairs, order } = ordering;
  const rows = rowsOf(ordering);
  const ahead = forward(ordering, rows);
  // Pairs by what is placed after them.
  const into = Array.from({ length: size }, () => [] as number[]);
  pairs.next.forEach((next, p) => into[pairs.placed[p]! | next]!.push(p));
  return draws.map((chances) => {
    const limits = new Map<number, number>();
    let [open, below] = [size - 1, order.length];
    // From the highest limit down: where it lies, and which sites it is.
    for (let step = 0; open !== 0; step++) {
      const options: { i: number; some: number; chance: number }[] = [];
      let total = 0;
      for (let i = 0; i < below; i++) {
        const row = rows[i];
        if (!row) continue;
        for (const p of into[open]!) {
          const chance = ahead[i]![pairs.placed[p]!]! * row[p]!;
          if (chance > 0) options.push({ i, some: pairs.next[p]!, chance });
          total += chance;
        }
      }
      let left = total * (chances[step] ?? 0.5);
      const taken = options.find(({ chance }) => (left -= chance) <= 0) ?? options.at(-1);
      if (!taken) break;
      sites.forEach((site, k) => {
        if (taken.some & (1 << k)) limits.set(site, order[taken.i]!);
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
  const ordering = prepare(bench, sites);
  const { size, masks, order } = ordering;
  const count = order.length;
  const settledAt = sites.length > 0 ? whenSettled(ordering) : new Map<number, Float64Array>();
  return trials.map((trial, t): Shares => {
    const share: Shares = {
      sites: new Map(),
      asDesigned: trial.ledger.by.map(() => 0),
      odd: 0,
      fit: 0,
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
    if (mask === 0) divide(unlimited(grid), 0, 1);
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
function whenSettled(ordering: Ordering): Map<number, Float64Array> {
  const { size, pairs, masks, order } = ordering;
  const count = order.length;
  const found = new Map(
    masks.filter((mask) => mask !== 0).map((mask) => [mask, new Float64Array(count * size)]),
  );
  const rows = rowsOf(ordering);
  const ahead = forward(ordering, rows);
  const total = ahead.at(-1)![size - 1]! + 1e-300;
  let behind = new Float64Array(size);
  behind[size - 1] = 1;
  for (let at = count - 1; at >= 0; at--) {
    const row = rows[at];
    if (!row) continue;
    const place = order[at]!;
    const before = behind.slice();
    for (let p = 0; p < row.length; p++) {
      const placed = pairs.placed[p]!;
      const next = pairs.next[p]!;
      const chance = behind[placed | next]! * row[p]!;
      if (chance === 0) continue;
      before[placed]! += chance;
      const whole = (chance * ahead[at]![placed]!) / total;
      if (whole <= NOTHING) continue;
      for (const [mask, chances] of found)
        if ((mask & next) !== 0 && (mask & placed) === 0)
          chances[place * size + (mask & next)]! += whole;
    }
    behind = before;
  }
  return found;
}
