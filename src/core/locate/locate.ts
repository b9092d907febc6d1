import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { kindOf, type Drill } from "../drills/drill";
import type { Direction } from "../units/rate";
import { atHand } from "./at-hand";
import { designed } from "./designed";
import { believe, type Belief } from "./believed";
import { changesOf, setUpKey, type Change, type Choices } from "./change";
import { causesOf, causesOfTooFast, type Cause } from "./explanation";
import { borrowed, nextSteps } from "./next-steps";
import { blameOf, isNew, type NextSwap } from "./next-swap";
import { ledgerCapacity } from "./ledger-capacity";
import { groupsOf, type Reached } from "./group";
import { USUAL_OPINION, type Opinion } from "./opinion";
import { signaturesIn } from "./signature";
import { nearest, observedWith, seenOnce, TOGETHER, type Observation } from "./seen";
import { lasting, relieved } from "./state";
import { trialsOf, type Trial } from "./trial";
import { worldsOf } from "./world";

export type { Observation } from "./seen";

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
  /** The same with the most useful part that is not on the shelf; null where none would tell more. */
  borrow: NextSwap | null;
  /** For what else is to be shown of it. */
  belief: Belief;
  trial: Trial;
}

/** From here on a place counts as found. */
export const SETTLED = 0.95;
/** Rigs that others are made from by one change: beyond so many, more would tell nothing new. */
const MOST_BASES = 12;
/** What a borrowed part has to tell more than what is at hand, bits. */
const WORTH_BORROWING = 0.05;
/** File systems that any host of today can be given. */
const USUAL_FILE_SYSTEMS = ["ext4", "exFAT"];
const ANOTHER_HOST = "another computer";

/** What is to be located, and how. */
export interface Wanted {
  /** Of which observations; of all where it is left out. */
  of?: (observation: Observation) => boolean;
  /** Whether what to do next is wanted too, which takes most of the time. */
  next?: boolean;
  opinion?: Opinion;
}

/**
 * Which part holds each rig back, how sure that is, and what to do next to be surer.
 *
 * @param observations of a study, all of one origin's kind (real or simulated)
 * @param shelf the parts at hand
 */
export function locate(
  observations: readonly Observation[],
  shelf: readonly Part[],
  { of = () => true, next = true, opinion = USUAL_OPINION }: Wanted = {},
): Located[] {
  const groups = new Map<string, Observation[]>();
  for (const one of observations) {
    if (one.drill.direction === "mixed") continue;
    const key = `${kindOf(one.drill).name} ${one.drill.direction}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  const choices = choicesOf(observations);
  const near = atHand(
    shelf,
    observations.map(({ rig }) => rig),
  );
  return [...groups.values()].flatMap((alike) =>
    alike.some(of) ? locateBy(alike, observations, near, choices, { of, next, opinion }) : [],
  );
}

function choicesOf(observations: readonly Observation[]): Choices {
  const said = (of: (rig: Rig) => string) => [
    ...new Set(observations.map(({ rig }) => of(rig)).filter(Boolean)),
  ];
  const bays = new Map<string, string[]>();
  for (const { rig } of observations) {
    const box = rig.parts.at(-2);
    if (!box || !rig.bay) continue;
    const known = bays.get(box.id) ?? [];
    if (!known.includes(rig.bay)) bays.set(box.id, [...known, rig.bay]);
  }
  return {
    bays,
    fileSystems: [...new Set([...said(({ fileSystem }) => fileSystem), ...USUAL_FILE_SYSTEMS])],
    hosts: [...new Set([...said(({ host }) => host), ANOTHER_HOST])],
  };
}

/** @param all observations of other drills and directions too */
function locateBy(
  alike: readonly Observation[],
  all: readonly Observation[],
  shelf: readonly Part[],
  choices: Choices,
  { of, next, opinion }: Required<Wanted>,
): Located[] {
  if (alike.length > TOGETHER)
    return alike.filter(of).flatMap((one) =>
      locateBy(nearest(one, alike), all, shelf, choices, {
        of: (other) => other === one,
        ...{ next, opinion },
      }),
    );
  const direction = alike[0]!.drill.direction as Direction;
  // What memory may have answered shows nothing of any part.
  const doubtful = alike.filter((one) => one.doubtful);
  const seen = seenOnce(alike.filter((one) => !one.doubtful));
  const signatures = signaturesIn(alike, all, direction);
  const belief = believe(
    seen.length > 0 ? seen : seenOnce(doubtful),
    ...([direction, opinion, signatures] as const),
  );
  if (!belief) return [];
  const memory =
    seen.length > 0 ? trialsOf(seenOnce(doubtful), direction, belief.grid, opinion) : belief.trials;
  const sound = seen.length > 0 ? belief.trials : [];
  const worlds = worldsOf(belief);
  const bases = basesOf(belief);
  const statesIn = (rig: Rig) => belief.trials.find((one) => one.rig === rig)?.states ?? [];
  const changes = uniqueChanges(bases.flatMap((rig) => changesOf(rig, shelf, choices, opinion)))
    .map((change): Change => ({
      ...change,
      states: lasting(statesIn(change.base), change.base, change.rig),
    }))
    .concat(
      sound.flatMap(({ rig, states = [] }) =>
        states.map((state) => relieved(rig, states, state, opinion)),
      ),
    )
    .flatMap((change): Reached[] => {
      const { drill } = alike[0]!;
      const ledger = ledgerCapacity(designed(change.rig), drill, direction, belief.grid);
      return ledger ? [{ ...change, most: ledger.most }] : [];
    });
  const possible = changes.filter((change) => isNew(change, belief));
  const isWanted = ({ rig }: { rig: Rig }) => of(alike.find((one) => one.rig === rig)!);
  const tooFast = [...belief.tooFast, ...memory].filter(isWanted).map((trial): Located => ({
    ...{ rig: trial.rig, drill: trial.drill, direction, observedMBps: trial.median },
    ...{ settled: false, nextSwaps: [], borrow: null, belief, trial },
    explanations: causesOfTooFast().map((cause) => ({ ...cause, group: null })),
  }));
  const located = sound.flatMap((trial, t): Located[] => {
    // Of one rig in several states the slowest is asked about.
    const twin = sound.some(
      (one) => isWanted(one) && observedWith(one.rig, trial.rig) && one.median < trial.median,
    );
    if (twin || !isWanted(trial)) return [];
    const causes = causesOf(belief, t);
    const groupOf = groupsOf(belief, t, causes, changes, worlds);
    const explanations = causes.map((cause) => ({
      ...cause,
      group: groupOf.get(cause.place) ?? null,
    }));
    const settled = isSettled(explanations);
    const standing = (place: string) => groupOf.get(place) ?? place;
    const blames = blameOf(belief, worlds, t, standing);
    const bearings = { belief, worlds, blames, trial, shelf, choices, opinion };
    const wanted = next && !settled;
    const nextSwaps = wanted ? nextSteps(bearings, possible, all) : [];
    // What cannot be told apart here may be told apart with one part more.
    const together = new Set(placesOf(explanations)[0]?.explanations.map(({ place }) => place));
    const apart = blameOf(belief, worlds, t, (place) => place);
    const other =
      wanted || (next && together.size > 1) ? borrowed({ ...bearings, blames: apart }) : null;
    const most = nextSwaps[0]?.bits ?? 0;
    const borrow = other && other.bits > most + WORTH_BORROWING ? other : null;
    return [
      {
        ...{ rig: trial.rig, drill: trial.drill, direction, observedMBps: trial.median },
        ...{ settled, explanations, nextSwaps, borrow, belief, trial },
      },
    ];
  });
  return [...located, ...tooFast];
}

/** The rigs from which one change leads on: the slowest against their ledger, and the fastest. */
function basesOf({ trials }: Belief): Rig[] {
  const short = ({ median, ledger }: Belief["trials"][number]) => median / ledger.least;
  const order = trials.toSorted((a, b) => short(a) - short(b));
  return [...new Set([...order.slice(0, MOST_BASES - 4), ...order.slice(-4)])].map(
    ({ rig }) => rig,
  );
}

function uniqueChanges(changes: readonly Change[]): Change[] {
  const found = new Map<string, Change>();
  for (const change of changes) {
    const key = setUpKey(change.rig);
    if (!found.has(key)) found.set(key, change);
  }
  return [...found.values()];
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
