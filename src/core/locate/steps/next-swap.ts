import type { Drill } from "../../drills/drill";
import type { Posterior } from "../posterior/posterior";
import type { Change } from "./change";
import { setUpKey } from "../../chain/set-up";
import { entropyOf } from "../posterior/entropy";
import { placeOf, unlimited, type Grid } from "../likelihood/grid";
import type { Predictive } from "./predictive";
import { isState } from "../hypotheses/run-state";
import { placeKey } from "../posterior/explanation";
import type { Draw } from "../posterior/draw";

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

/** Of each draw, which place holds the slow rig back, and how likely. */
export type Blame = readonly { place: string; chance: number }[];

/** A cause that is on no list stays with the next rig as often as not. */
const STAYS = 0.5;

/**
 * Who holds one trial back, draw by draw.
 *
 * @param t which of the posterior's trials
 * @param groupOf the place that stands for all that cannot be told apart from a place
 */
export function blameOf(
  posterior: Posterior,
  draws: readonly Draw[],
  t: number,
  groupOf: (place: string) => string,
): Blame[] {
  const trial = posterior.trials[t]!;
  const stands = posterior.bench.standsIn[t]!;
  const { rank } = posterior.grid;
  return draws.map(({ limits }) => {
    let place = unlimited(posterior.grid);
    let who: number | null = null;
    for (const [site, at] of limits) {
      if (!stands.has(site) || rank[at]! >= rank[place]!) continue;
      [place, who] = [at, site];
    }
    const all = trial.likelihood[place]! || 1;
    const blame = new Map<string, number>();
    const add = (key: string, chance: number) =>
      blame.set(key, (blame.get(key) ?? 0) + chance / all);
    if (who !== null) add(groupOf(placeKey(posterior.sites[who]!.at)), trial.limited[place]!);
    trial.asDesigned.forEach((part, j) =>
      add(groupOf(placeKey(trial.ledger.by[j]!.at)), part[place]!),
    );
    add("null", trial.odd[place]! + (who === null ? trial.limited[place]! : 0));
    return [...blame].map(([key, chance]) => ({ place: key, chance }));
  });
}

/** What a change is expected to tell. */
export interface Expected {
  /** Of what holds the rig back, bits. */
  bits: number;
  /** What it may give, and what that would mean; worked out when it is asked for. */
  outcomes(): Outcome[];
}

/**
 * What is expected of a change: how it may come out in each draw, and how much that tells of what
 * holds the rig back.
 *
 * @param predictive how it may come out
 * @param slow median of the rig that is asked about, MB/s
 */
export function expect(
  { grid }: Posterior,
  draws: readonly Draw[],
  blames: readonly Blame[],
  { bins, width, binOf, spreads }: Predictive,
  slow: number,
): Expected {
  const joint = new Map<string, Float64Array>();
  const stuck = Math.floor(placeOf(grid, slow) / width);
  // Worlds in which the changed rig has the same limit come out alike, whoever is to blame.
  const alikeBy = new Map<number, Map<string, number>>();
  draws.forEach(({ weight }, w) => {
    const bin = binOf[w]!;
    const chances = alikeBy.get(bin) ?? new Map<string, number>();
    alikeBy.set(bin, chances);
    for (const { place, chance } of blames[w]!)
      chances.set(place, (chances.get(place) ?? 0) + weight * chance);
  });
  for (const [bin, chances] of alikeBy) {
    const spread = spreads.get(bin)!;
    for (const [place, chance] of chances) {
      const at = joint.get(place) ?? new Float64Array(bins);
      joint.set(place, at);
      const stays = place === "null" ? STAYS : 0;
      for (let i = 0; i < bins; i++) at[i]! += chance * spread[i]! * (1 - stays);
      at[stuck]! += chance * stays;
    }
  }
  return { bits: information(joint, bins), outcomes: () => outcomesOf(joint, bins, width, grid) };
}

/** Mutual information of what holds the rig back and what the change gives, bits. */
function information(joint: ReadonlyMap<string, Float64Array>, bins: number): number {
  const rows = [...joint.values()];
  const before = entropyOf(rows.map((row) => row.reduce((sum, value) => sum + value, 0)));
  const column = new Float64Array(rows.length);
  let [after, whole] = [0, 0];
  for (let i = 0; i < bins; i++) {
    let total = 0;
    rows.forEach((row, j) => (total += column[j] = row[i]!));
    whole += total;
    if (total > 0) after += total * entropyOf(column);
  }
  return Math.max(0, before - after / (whole || 1));
}

/** Outcomes less likely than this are not told. */
const TOLD = 0.02;

/** Neighbouring bins that mean the same, as ranges of rates. */
function outcomesOf(
  joint: ReadonlyMap<string, Float64Array>,
  bins: number,
  width: number,
  grid: Grid,
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
export const isNew = (change: Change, posterior: Posterior): boolean => {
  const key = setUpKey(change.rig);
  const done = posterior.trials.filter(({ rig }) => setUpKey(rig) === key);
  // The same rig is new again where it was never measured without what its drive is relieved of.
  const { kind } = change;
  return isState(kind) ? done.every(({ states = [] }) => states.includes(kind)) : done.length === 0;
};
