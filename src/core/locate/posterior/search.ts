import { sharesOf, weigh, type FaultSet } from "./fault-set";
import type { Bench } from "./orderings";

/** Faults at most in one set: beyond that the data of no bench can part them. */
const MOST_FAULTS = 5;
/** Sets of one size that are taken further. */
const KEPT = [0, 30, 30, 16, 8];
/** One more fault has to make what was seen likelier by this, or it is left out. */
const WORTH_IT = Math.log(1.15);
/** From these odds on a fault is to be expected, such as a drive that takes its time ... */
const EXPECTED = 0.4;
/** ... and a set with it counts that is a tenth as likely as the one without it, as a logarithm. */
const COUNTS = Math.log(0.1);
/** Sets that are less likely than the best by this, as a logarithm, count for nothing. */
const NEGLIGIBLE = 11;

/**
 * The sets of faults that explain what was seen, with their probabilities. Not all are looked at: from
 * the likeliest of one size those with one more are made, which finds all that matter, since a fault
 * that explains nothing by itself explains little with another (Madigan and Raftery, "Model selection
 * and accounting for model uncertainty in graphical models using Occam's window", JASA 89, 1994).
 *
 * @returns the likeliest first; their probabilities sum to 1
 */
export function likelySets(bench: Bench): { sites: readonly number[]; probability: number }[] {
  const all: FaultSet[] = [weigh(bench, [])];
  let kept = [all[0]!];
  for (let size = 1; size <= MOST_FAULTS && kept.length > 0; size++) {
    const made = new Map<string, FaultSet>();
    const worthless = new Set<FaultSet>();
    for (const { sites, weight } of kept) {
      for (const site of promising(bench, sites)) {
        const more = [...sites, site].toSorted((a, b) => a - b);
        const key = more.join();
        const set = made.get(key) ?? weigh(bench, more);
        made.set(key, set);
        // A fault that explains nothing more is no part of an explanation, unless it is to be expected:
        // that holds for whichever of them is taken for the one that is added.
        const { odds } = bench.priors[site]!;
        const wanted = odds > EXPECTED ? COUNTS : Math.log(odds) + WORTH_IT;
        if (set.weight - weight <= wanted) worthless.add(set);
      }
    }
    const next = [...made.values()].filter((set) => !worthless.has(set));
    all.push(...next);
    const best = Math.max(...all.map(({ weight }) => weight));
    const order = next.toSorted((a, b) => b.weight - a.weight);
    // A set is taken further while one more fault might still bring it among the likely ones.
    const [first] = order;
    if (!first || (size > 1 && first.weight < best - NEGLIGIBLE)) break;
    kept = withEquals(order, KEPT[size] ?? 0).filter(
      ({ weight }) => size === 1 || weight > best - 2 * NEGLIGIBLE,
    );
  }
  const best = Math.max(...all.map(({ weight }) => weight));
  const likely = all
    .filter(({ weight }) => weight > best - NEGLIGIBLE)
    .toSorted((a, b) => b.weight - a.weight);
  const total = likely.reduce((sum, { weight }) => sum + Math.exp(weight - best), 0);
  return likely.map(({ sites, weight }) => ({
    sites,
    probability: Math.exp(weight - best) / total,
  }));
}

/** Weights closer than this are equal but for how they were added up. */
const EQUAL = 1e-6;

/**
 * The first of a list and all that weigh as much as the last of them: which of equals come first is a
 * matter of their names alone.
 */
function withEquals(order: readonly FaultSet[], count: number): FaultSet[] {
  const last = order[count - 1];
  return last
    ? order.filter(({ weight }) => weight > last.weight - EQUAL)
    : [...order.slice(0, count)];
}

/** What one more fault could gain at most, as a logarithm, to be looked at. */
const PROMISING = 2.5;

/**
 * The sites beside those of a set that could explain more: those in whose trials what was seen would
 * be much likelier, were some limit there just right.
 */
function promising(bench: Bench, sites: readonly number[]): number[] {
  const gains = new Float64Array(bench.priors.length);
  sharesOf(bench, sites).forEach(({ fit }, t) => {
    const gain = Math.log(bench.trials[t]!.top / fit);
    for (const site of bench.standsIn[t]!) gains[site]! += Math.max(0, gain);
  });
  return [...gains.keys()].filter((site) => gains[site]! > PROMISING && !sites.includes(site));
}
