import type { Drill } from "../drills/drill";
import type { Belief } from "./believed";
import { setUpKey, type Change } from "./change";
import { designed } from "./designed";
import { entropyOf } from "./entropy";
import { placeOf } from "./grid";
import { ledgerCapacity } from "./ledger-capacity";
import { priorOf } from "./prior";
import { pairingsIn, sitesOf } from "./site";
import { isState, stateSite } from "./state";
import { placeKey } from "./explanation";
import type { World } from "./world";

/** What a change may give, and what that would mean. */
export interface Outcome {
  fromMBps: number;
  toMBps: number;
  probability: number;
  /** Places of what then holds the rig back, with their probability, the likeliest first. */
  then: { place: string; probability: number }[];
}

/** A change with what is expected of it. */
export interface NextSwap extends Change {
  drill: Drill;
  /** Expected information on what holds the rig back, bits. */
  bits: number;
  outcomes: Outcome[];
}

/** Of each world, which place holds the slow rig back, and how likely. */
export type Blame = readonly { place: string; chance: number }[];

/** Outcomes are told apart from this difference on, as a difference of logarithms. */
const BIN = 0.07;
/** A cause that is on no list stays with the next rig as often as not. */
const STAYS = 0.5;

/**
 * Who holds one trial back, world by world.
 *
 * @param t which of the belief's trials
 * @param groupOf the place that stands for all that cannot be told apart from a place
 */
export function blameOf(
  belief: Belief,
  worlds: readonly World[],
  t: number,
  groupOf: (place: string) => string,
): Blame[] {
  const trial = belief.trials[t]!;
  const stands = belief.bench.standsIn[t]!;
  const last = belief.grid.rates.length - 1;
  return worlds.map(({ limits }) => {
    let place = last;
    let who: number | null = null;
    for (const [site, at] of limits) {
      if (!stands.has(site) || at >= place) continue;
      [place, who] = [at, site];
    }
    const all = trial.likelihood[place]! || 1;
    const blame = new Map<string, number>();
    const add = (key: string, chance: number) =>
      blame.set(key, (blame.get(key) ?? 0) + chance / all);
    if (who !== null) add(groupOf(placeKey(belief.sites[who]!.at)), trial.limited[place]!);
    trial.asDesigned.forEach((part, j) =>
      add(groupOf(placeKey(trial.ledger.by[j]!.at)), part[place]!),
    );
    add("null", trial.odd[place]! + (who === null ? trial.limited[place]! : 0));
    return [...blame].map(([key, chance]) => ({ place: key, chance }));
  });
}

/**
 * What is expected of a change: how it may come out in each world, and how much that tells of what
 * holds the rig back.
 *
 * @param slow median of the rig that is asked about, MB/s
 * @returns null where the changed rig does not link
 */
export function expect(
  belief: Belief,
  worlds: readonly World[],
  blames: readonly Blame[],
  change: Change,
  drill: Drill,
  slow: number,
): NextSwap | null {
  const { grid, direction, sites, opinion, signatures } = belief;
  const ledger = ledgerCapacity(designed(change.rig), drill, direction, grid);
  if (!ledger) return null;
  const numbers = new Map(sites.map(({ key }, i) => [key, i]));
  const here: number[] = [];
  const states = (change.states ?? []).map((state) => stateSite(change.rig, state));
  const unseen = [...sitesOf(change.rig), ...states].filter(({ key }) => {
    const number = numbers.get(key);
    if (number !== undefined) here.push(number);
    return number === undefined;
  });
  // What was never seen may carry less than it says, as anything may.
  const priors = unseen.map((site) =>
    priorOf(
      site,
      direction,
      ledger.least,
      grid,
      opinion,
      signatures,
      pairingsIn(sitesOf(change.rig)),
    ),
  );
  const width = Math.max(1, Math.round(BIN / grid.step));
  const bins = Math.ceil(grid.rates.length / width) + 1;
  const joint = new Map<string, Float64Array>();
  const alone = ledgerBins(ledger.density, width, bins);
  const fresh = freshBins(priors, width, bins);
  const stuck = Math.floor(placeOf(grid, slow) / width);
  // Worlds in which the changed rig has the same limit come out alike, whoever is to blame.
  const alikeBy = new Map<number, Map<string, number>>();
  worlds.forEach(({ weight, limits }, w) => {
    let least = Infinity;
    for (const number of here) least = Math.min(least, limits.get(number) ?? Infinity);
    const bin = least === Infinity ? bins : Math.floor(least / width);
    const chances = alikeBy.get(bin) ?? new Map<string, number>();
    alikeBy.set(bin, chances);
    for (const { place, chance } of blames[w]!)
      chances.set(place, (chances.get(place) ?? 0) + weight * chance);
  });
  for (const [bin, chances] of alikeBy) {
    const spread = smoothed(lowest(bin, alone, fresh, bins));
    for (const [place, chance] of chances) {
      const at = joint.get(place) ?? new Float64Array(bins);
      joint.set(place, at);
      const stays = place === "null" ? STAYS : 0;
      for (let i = 0; i < bins; i++) at[i]! += chance * spread[i]! * (1 - stays);
      at[stuck]! += chance * stays;
    }
  }
  return {
    ...change,
    drill,
    bits: information(joint, bins),
    outcomes: outcomesOf(joint, bins, width, belief),
  };
}

function ledgerBins(density: Float64Array, width: number, bins: number): Float64Array {
  const binned = new Float64Array(bins);
  density.forEach((value, i) => (binned[Math.floor(i / width)]! += value));
  return binned;
}

/** The probability that some site which was never seen is the limit in each bin; the rest carries all. */
function freshBins(
  priors: readonly { odds: number; density: Float64Array }[],
  width: number,
  bins: number,
): Float64Array {
  const binned = new Float64Array(bins);
  for (const { odds, density } of priors) {
    const chance = odds / (1 + odds);
    density.forEach((value, i) => (binned[Math.floor(i / width)]! += chance * value));
  }
  return binned;
}

/** The distribution of the least of a limit that is known, the ledger's, and what was never seen. */
function lowest(
  known: number,
  ledger: Float64Array,
  fresh: Float64Array,
  bins: number,
): Float64Array {
  const result = new Float64Array(bins);
  let [ledgerAbove, freshAbove] = [1, 1];
  for (let i = 0; i < bins; i++) {
    const reaching = ledgerAbove * freshAbove;
    ledgerAbove -= ledger[i]!;
    freshAbove -= fresh[i]!;
    if (i >= known) {
      result[i] = reaching;
      break;
    }
    result[i] = Math.max(0, reaching - Math.max(0, ledgerAbove) * Math.max(0, freshAbove));
  }
  return result;
}

/** Noise carries some of each outcome over to its neighbours. */
function smoothed(values: Float64Array): Float64Array {
  return values.map(
    (value, i) => 0.6 * value + 0.2 * (values[i - 1] ?? value) + 0.2 * (values[i + 1] ?? value),
  );
}

/** Mutual information of what holds the rig back and what the change gives, bits. */
function information(joint: ReadonlyMap<string, Float64Array>, bins: number): number {
  const rows = [...joint.values()];
  const before = entropyOf(rows.map((row) => row.reduce((sum, value) => sum + value, 0)));
  let after = 0;
  for (let i = 0; i < bins; i++) {
    const column = rows.map((row) => row[i]!);
    const total = column.reduce((sum, value) => sum + value, 0);
    if (total > 0) after += total * entropyOf(column);
  }
  const whole = rows.reduce((sum, row) => sum + row.reduce((a, b) => a + b, 0), 0);
  return Math.max(0, before - after / (whole || 1));
}

/** Outcomes less likely than this are not told. */
const TOLD = 0.02;

/** Neighbouring bins that mean the same, as ranges of rates. */
function outcomesOf(
  joint: ReadonlyMap<string, Float64Array>,
  bins: number,
  width: number,
  { grid }: Belief,
): Outcome[] {
  const ranges: { from: number; to: number; chances: Map<string, number>; top: string }[] = [];
  for (let i = 0; i < bins; i++) {
    const chances = new Map([...joint].map(([place, row]) => [place, row[i]!]));
    const [top] = [...chances].toSorted((a, b) => b[1] - a[1]);
    const total = [...chances.values()].reduce((sum, value) => sum + value, 0);
    if (!top || total < 1e-4) continue;
    const before = ranges.at(-1);
    if (before && before.top === top[0] && i - before.to <= 2) {
      before.to = i;
      for (const [place, chance] of chances)
        before.chances.set(place, (before.chances.get(place) ?? 0) + chance);
    } else ranges.push({ from: i, to: i, chances, top: top[0] });
  }
  const rate = (place: number) => grid.rates[Math.max(0, Math.min(place, grid.rates.length - 2))]!;
  return ranges
    .map(({ from, to, chances }) => {
      const probability = [...chances.values()].reduce((sum, value) => sum + value, 0);
      return {
        fromMBps: rate(from * width),
        toMBps: rate((to + 1) * width - 1),
        probability,
        then: [...chances]
          .map(([place, chance]) => ({ place, probability: chance / probability }))
          .toSorted((a, b) => b.probability - a.probability)
          .slice(0, 4),
      };
    })
    .filter(({ probability }) => probability >= TOLD)
    .toSorted((a, b) => b.probability - a.probability);
}

/** Whether a change makes a rig that was measured already in this way. */
export const isNew = (change: Change, belief: Belief): boolean => {
  const key = setUpKey(change.rig);
  const done = belief.trials.filter(({ rig }) => setUpKey(rig) === key);
  // The same rig is new again where it was never measured without what its drive is relieved of.
  const { kind } = change;
  return isState(kind) ? done.every(({ states = [] }) => states.includes(kind)) : done.length === 0;
};
