import { differences } from "../chain/difference";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { kindOf, type Drill } from "../drills/drill";
import type { Observation as Whole } from "../study/measurement";
import type { Direction } from "../units/rate";
import { believe, type Belief } from "./believed";
import { changesOf, setUpKey, type Change, type Choices } from "./change";
import { causesOf, causesOfTooFast, placeKey, type Cause } from "./explanation";
import { blameOf, expect, isNew, type NextSwap } from "./next-swap";
import { ledgerCapacity } from "./ledger-capacity";
import { sitesOf } from "./site";
import { trialsOf, type Trial } from "./trial";
import { worldsOf } from "./world";

/** What locating needs of what was seen of a rig. */
export type Observation = Pick<Whole, "rig" | "drill" | "repeats" | "measurementIds" | "doubtful">;

/** One explanation of a rig's rate, with whom it cannot be told apart from. */
export interface Explanation extends Cause {
  /** The same for all that no rig of this shelf can part; null where it stands alone. */
  group: string | null;
}

/** What is known of one rig in one direction and drill. */
export interface Located {
  rig: Rig;
  drill: Drill;
  direction: Direction;
  /** Median, MB/s. */
  observedMBps: number;
  /** Whether one place, with all that cannot be told from it, is surely what holds it back. */
  settled: boolean;
  /** The likeliest first; their probabilities sum to 1 at most. */
  explanations: Explanation[];
  /** What to do next, the most telling first. */
  nextSwaps: NextSwap[];
  /** For what else is to be shown of it. */
  belief: Belief;
  trial: Trial;
}

/** From here on a place counts as found. */
export const SETTLED = 0.95;
/** Rigs that others are made from by one change: beyond so many, more would tell nothing new. */
const MOST_BASES = 12;
/** Swaps that are named. */
const MOST_SWAPS = 12;
/** What tells less is not worth a run, bits. */
const LEAST_BITS = 0.01;
/** File systems that any host of today can be given. */
const USUAL_FILE_SYSTEMS = ["ext4", "exFAT"];
const ANOTHER_HOST = "another computer";

/**
 * Which part holds each rig back, how sure that is, and what to do next to be surer.
 *
 * @param observations of a study, all of one origin's kind (real or simulated)
 * @param shelf the parts at hand
 */
export function locate(
  observations: readonly Observation[],
  shelf: readonly Part[],
  wanted: (observation: Observation) => boolean = () => true,
): Located[] {
  const groups = new Map<string, Observation[]>();
  for (const one of observations) {
    if (one.drill.direction === "mixed") continue;
    const key = `${kindOf(one.drill).name} ${one.drill.direction}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  const choices = choicesOf(observations);
  return [...groups.values()].flatMap((alike) => locateBy(alike, shelf, choices, wanted));
}

function choicesOf(observations: readonly Observation[]): Choices {
  const said = (of: (rig: Rig) => string) => [
    ...new Set(observations.map(({ rig }) => of(rig)).filter(Boolean)),
  ];
  return {
    fileSystems: [...new Set([...said(({ fileSystem }) => fileSystem), ...USUAL_FILE_SYSTEMS])],
    hosts: [...new Set([...said(({ host }) => host), ANOTHER_HOST])],
  };
}

function locateBy(
  alike: readonly Observation[],
  shelf: readonly Part[],
  choices: Choices,
  wanted: (observation: Observation) => boolean,
): Located[] {
  if (alike.length > TOGETHER)
    return alike
      .filter(wanted)
      .flatMap((one) => locateBy(nearest(one, alike), shelf, choices, (other) => other === one));
  const direction = alike[0]!.drill.direction as Direction;
  // What memory may have answered shows nothing of any part.
  const doubtful = alike.filter((one) => one.doubtful);
  const seen = seenOnce(alike.filter((one) => !one.doubtful));
  const belief = believe(seen.length > 0 ? seen : seenOnce(doubtful), direction);
  if (!belief) return [];
  const memory =
    seen.length > 0 ? trialsOf(seenOnce(doubtful), direction, belief.grid) : belief.trials;
  const sound = seen.length > 0 ? belief.trials : [];
  const worlds = worldsOf(belief);
  const bases = basesOf(belief);
  const changes = uniqueChanges(bases.flatMap((rig) => changesOf(rig, shelf, choices))).flatMap(
    (change): Reached[] => {
      const { drill } = alike[0]!;
      const ledger = ledgerCapacity(change.rig, drill, direction, belief.grid);
      return ledger ? [{ ...change, most: ledger.most }] : [];
    },
  );
  const possible = changes.filter((change) => isNew(change, belief));
  const isWanted = ({ rig }: { rig: Rig }) => wanted(alike.find((one) => one.rig === rig)!);
  const tooFast = [...belief.tooFast, ...memory].filter(isWanted).map((trial): Located => ({
    ...{ rig: trial.rig, drill: trial.drill, direction, observedMBps: trial.median },
    ...{ settled: false, nextSwaps: [], belief, trial },
    explanations: causesOfTooFast().map((cause) => ({ ...cause, group: null })),
  }));
  const located = sound.flatMap((trial, t): Located[] => {
    if (!isWanted(trial)) return [];
    const causes = causesOf(belief, t);
    const groupOf = groupsOf(belief, t, causes, changes);
    const explanations = causes.map((cause) => ({
      ...cause,
      group: groupOf.get(cause.place) ?? null,
    }));
    const settled = isSettled(explanations);
    const standing = (place: string) => groupOf.get(place) ?? place;
    const blames = blameOf(belief, worlds, t, standing);
    const nextSwaps = settled
      ? []
      : possible
          .flatMap((change) => {
            const found = expect(belief, worlds, blames, change, trial.drill, trial.median);
            return found && found.bits >= LEAST_BITS ? [found] : [];
          })
          .toSorted((a, b) => worth(b, trial.rig) - worth(a, trial.rig))
          .slice(0, MOST_SWAPS);
    return [
      {
        ...{ rig: trial.rig, drill: trial.drill, direction, observedMBps: trial.median },
        ...{ settled, explanations, nextSwaps, belief, trial },
      },
    ];
  });
  return [...located, ...tooFast];
}

/** Of changes that tell as much, the one that takes least and leaves most of the rig as it is. */
const worth = ({ bits, minutes, rig }: NextSwap, slow: Rig) =>
  bits - 1e-3 * minutes - 4e-3 * differences(rig, slow).length;

/** Rigs that are weighed together: of more, each is weighed with those that have most in common with it. */
export const TOGETHER = 24;

function nearest(one: Observation, all: readonly Observation[]): Observation[] {
  const keys = new Set(sitesOf(one.rig).map(({ key }) => key));
  const common = ({ rig }: Observation) =>
    sitesOf(rig).reduce((sum, { key }) => sum + (keys.has(key) ? 1 : 0), 0);
  return all
    .map((other) => ({ other, common: other === one ? Infinity : common(other) }))
    .toSorted((a, b) => b.common - a.common)
    .slice(0, TOGETHER)
    .map(({ other }) => other);
}

/** All that was seen of one set-up together: another day's repeats are no other set-up. */
function seenOnce(alike: readonly Observation[]) {
  const byRig = new Map<string, Observation[]>();
  for (const one of alike) {
    const key = setUpKey(one.rig);
    byRig.set(key, [...(byRig.get(key) ?? []), one]);
  }
  return [...byRig.values()].map((same) => ({
    rig: same[0]!.rig,
    drill: same[0]!.drill,
    rates: same.flatMap(({ repeats }) => repeats.values),
    measurementIds: same.flatMap(({ measurementIds }) => measurementIds),
  }));
}

/** The rigs from which one change leads on: the slowest against their ledger, and the fastest. */
function basesOf({ trials }: Belief): Rig[] {
  const short = ({ median, ledger }: Belief["trials"][number]) => median / ledger.least;
  const order = trials.toSorted((a, b) => short(a) - short(b));
  return [...new Set([...order.slice(0, MOST_BASES - 4), ...order.slice(-4)])].map(
    ({ rig }) => rig,
  );
}

/** A change, with the most that the ledger lets through after it, MB/s. */
type Reached = Change & { most: number };
/** A rig that is to tell something of a rate has to be able to carry clearly more. */
const TELLING = 1.12;

function uniqueChanges(changes: readonly Change[]): Change[] {
  const found = new Map<string, Change>();
  for (const change of changes) {
    const key = setUpKey(change.rig);
    if (!found.has(key)) found.set(key, change);
  }
  return [...found.values()];
}

/**
 * Places that stand together in every rig that was measured or can be made by one change: no run on
 * this shelf can part them.
 *
 * @returns by place, the name of its group; places that stand alone are not in it
 */
function groupsOf(
  belief: Belief,
  t: number,
  causes: readonly Cause[],
  changes: readonly Reached[],
): Map<string, string> {
  const { median } = belief.trials[t]!;
  const slow = slowElsewhere(belief, t);
  const tells = (rig: Rig) => !sitesOf(rig).some(({ key }) => slow.has(key));
  const rigs = [
    ...belief.trials.flatMap((one) =>
      one.median > median * TELLING || tells(one.rig) ? [one.rig] : [],
    ),
    ...changes.flatMap(({ most, rig }) => (most > median * TELLING && tells(rig) ? [rig] : [])),
  ];
  const standing = rigs.map((rig) => new Set(sitesOf(rig).map(({ key }) => key)));
  const members = new Map<string, string[]>();
  for (const { site, place } of causes) {
    if (!site) continue;
    const mark = standing.map((keys) => (keys.has(site.key) ? "1" : "0")).join("");
    const together = members.get(mark) ?? [];
    if (!together.includes(place)) members.set(mark, [...together, place]);
  }
  // Links of one mode in a row are narrow alike.
  for (const { at, stage, density } of belief.trials[t]!.ledger.by) {
    if (stage?.cause.kind !== "link" || density.every((value) => value < 1e-6)) continue;
    const mark = `mode ${stage.cause.link.mode?.id}`;
    members.set(mark, [...(members.get(mark) ?? []), placeKey(at)]);
  }
  return new Map(
    [...members.values()]
      .filter((places) => places.length > 1)
      .flatMap((places) => places.map((place) => [place, places.toSorted()[0]!])),
  );
}

/** From here on a site counts as what holds another rig back. */
const KNOWN = 0.8;

/**
 * Sites outside a rig that are known to carry no more than it gives: with them in it, no rig tells
 * anything of this one.
 */
function slowElsewhere({ sets, sites, trials, bench }: Belief, t: number): Set<string> {
  const found = new Set<string>();
  trials.forEach(({ median }, other) => {
    if (median > trials[t]!.median * TELLING) return;
    const chances = new Map<number, number>();
    for (const { probability, shares } of sets)
      for (const [site, at] of shares[other]!.sites) {
        const share = at.reduce((sum, value) => sum + value, 0);
        chances.set(site, (chances.get(site) ?? 0) + probability * share);
      }
    for (const [site, chance] of chances)
      if (chance > KNOWN && !bench.standsIn[t]!.has(site)) found.add(sites[site]!.key);
  });
  return found;
}

function isSettled(explanations: readonly Explanation[]): boolean {
  const sums = new Map<string, number>();
  for (const { place, group, probability } of explanations) {
    const key = group ?? place;
    sums.set(key, (sums.get(key) ?? 0) + probability);
  }
  return Math.max(0, ...sums.values()) >= SETTLED;
}

/** Explanations by what cannot be told apart, with the probability of all together. */
export function placesOf(
  explanations: readonly Explanation[],
): { key: string; probability: number; explanations: Explanation[] }[] {
  const found = new Map<string, Explanation[]>();
  for (const one of explanations) {
    const key = one.group ?? one.place;
    found.set(key, [...(found.get(key) ?? []), one]);
  }
  return [...found]
    .map(([key, list]) => ({
      key,
      probability: list.reduce((sum, { probability }) => sum + probability, 0),
      explanations: list,
    }))
    .toSorted((a, b) => b.probability - a.probability);
}
