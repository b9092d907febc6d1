import { median } from "simple-statistics";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { Drill } from "../drills/drill";
import type { Direction } from "../units/rate";
import { candidateParts, FEW_OF_A_KIND } from "./steps/candidate-parts";
import { designed } from "../chain/designed";
import type { Posterior } from "./posterior/posterior";
import { changesOf, type Change, type Choices } from "./steps/change";
import { choicesOf } from "./steps/choices";
import { setUpKey } from "../chain/set-up";
import { causesOf, type Cause } from "./posterior/explanation";
import { borrowed, nextSteps } from "./steps/next-steps";
import { blameOf, isNew, type NextSwap } from "./steps/next-swap";
import { mostOf } from "./likelihood/ledger-capacity";
import { groupsOf, type Reached } from "./steps/group";
import { USUAL_OPINION, type Opinion } from "./hypotheses/opinion";
import { outlookOf } from "./steps/predictive";
import { nearest, observedWith, TOGETHER } from "./observations/pooled";
import type { Observation } from "./observations/observation";
import { lasting, relieved } from "./steps/relieved";
import { causesOfDoubtful, pastMemory } from "./too-fast";
import { tellingDrills } from "./steps/telling-drill";
import { byRequests, slowestOf, weigh, type Weighed } from "./weigh";
import type { Trial } from "./likelihood/trial";
import { drawsOf } from "./posterior/draw";

export type { Observation } from "./observations/observation";

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
  posterior: Posterior;
  trial: Trial;
}

/** From here on a place counts as found. */
export const SETTLED = 0.95;
/** Rigs that others are made from by one change, the slowest and the fastest: more would tell nothing new. */
const BASES = { slow: 8, fast: 4 };
/** The same beside the one that is asked about, of very many. */
const FEW_BASES = { slow: 2, fast: 3 };
/** What a borrowed part has to tell more than what is at hand, bits. */
const WORTH_BORROWING = 0.05;

/** What is to be located, and how. */
export interface Wanted {
  /** Of which observations; of all where it is left out. */
  of?: (observation: Observation) => boolean;
  /** Whether what to do next is wanted too, which takes most of the time. */
  next?: boolean;
  opinion?: Opinion;
  /** Machines at hand that a drive can be connected to, beside those that rigs name. */
  hosts?: readonly string[];
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
  { of = () => true, next = true, opinion = USUAL_OPINION, hosts = [] }: Wanted = {},
): Located[] {
  const choices = choicesOf(observations, hosts);
  const near = candidateParts(
    shelf,
    observations.map(({ rig }) => rig),
  );
  return byRequests(observations).flatMap((alike) =>
    alike.some(of) ? locateBy(alike, observations, near, choices, { of, next, opinion }) : [],
  );
}

/**
 * @param all observations of other drills and directions too
 * @param wanted.asked the only one that is asked about, of very many
 */
function locateBy(
  alike: readonly Observation[],
  all: readonly Observation[],
  shelf: readonly Part[],
  choices: Choices,
  { of, next, opinion, asked }: Required<Omit<Wanted, "hosts">> & { asked?: Observation },
): Located[] {
  if (alike.length > TOGETHER)
    return alike.filter(of).flatMap((one) => {
      const near = nearest(one, alike);
      const rigs = near.map(({ rig }) => rig);
      const few = candidateParts(shelf, rigs, FEW_OF_A_KIND);
      const of = (other: Observation) => other === one;
      return locateBy(near, all, few, choices, { of, next, opinion, asked: one });
    });
  const direction = alike[0]!.drill.direction as Direction;
  const weighed = weigh(alike, all, opinion);
  if (!weighed) return [];
  const { posterior, sound, memory } = weighed;
  const draws = drawsOf(posterior);
  const outlook = outlookOf(posterior, draws);
  const bases = basesOf(posterior, asked);
  const tried = uniqueChanges(bases.flatMap((rig) => changesOf(rig, shelf, choices, opinion)));
  const changes = reached(tried, weighed, alike[0]!.drill, opinion);
  const possible = changes.filter((change) => isNew(change, posterior));
  const wantedOf = (trial: Trial) => rigsOf(trial, alike.filter(of));
  // Once it was measured without memory that counts.
  const isOutdated = (trial: Trial) => sound.some(({ rig }) => observedWith(rig, trial.rig));
  const tooFast = [...posterior.tooFast, ...memory]
    .filter((trial) => !isOutdated(trial))
    .flatMap((trial) =>
      wantedOf(trial).map((one): Located => ({
        ...one,
        direction,
        settled: false,
        borrow: null,
        posterior,
        trial,
        nextSwaps: next ? [pastMemory(trial, alike)] : [],
        explanations: causesOfDoubtful(trial, alike).map((cause) => ({ ...cause, group: null })),
      })),
    );
  const located = sound.flatMap((trial, t): Located[] => {
    // Of one rig in several states the slowest is asked about.
    const asked = slowestOf(sound, trial.rig) === t ? wantedOf(trial) : [];
    if (asked.length === 0) return [];
    const causes = causesOf(posterior, t);
    const groupOf = groupsOf(posterior, t, causes, changes, draws);
    const explanations = causes.map((cause) => ({
      ...cause,
      group: groupOf.get(cause.place) ?? null,
    }));
    const settled = isSettled(explanations);
    const standing = (place: string) => groupOf.get(place) ?? place;
    const blames = blameOf(posterior, draws, t, standing);
    const bearings = { posterior, draws, outlook, blames, trial, shelf, choices, opinion };
    const wanted = next && !settled;
    // What no swap here tells apart another drill may, or one part more.
    const [first] = inseparable(explanations);
    const together = new Set(first?.explanations.map(({ place }) => place));
    const isParted = next && together.size > 1 && explanations[0]?.kind !== "as-designed";
    const apart = { ...bearings, blames: blameOf(posterior, draws, t, (place) => place) };
    const nextSwaps = wanted
      ? nextSteps(bearings, possible, all)
      : isParted
        ? tellingDrills(apart, all)
        : [];
    const other = wanted || isParted ? borrowed(apart) : null;
    const most = nextSwaps[0]?.bits ?? 0;
    const borrow = other && other.bits > most + WORTH_BORROWING ? other : null;
    return asked.map((one) => ({
      ...one,
      direction,
      settled,
      explanations,
      nextSwaps,
      borrow,
      posterior,
      trial,
    }));
  });
  return [...located, ...tooFast];
}

/** Changes with the states that last through them and what each reaches at most, and those that relieve a state. */
function reached(
  changes: readonly Change[],
  { posterior, sound }: Weighed,
  drill: Drill,
  opinion: Opinion,
): Reached[] {
  const statesIn = (rig: Rig) => posterior.trials.find((one) => one.rig === rig)?.states ?? [];
  return changes
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
      const most = mostOf(designed(change.rig), drill, posterior.direction);
      return most === null ? [] : [{ ...change, most }];
    });
}

/** The rigs of one set-up, each with what it gave itself: what is known of them is the same. */
function rigsOf(
  trial: Trial,
  observations: readonly Observation[],
): Pick<Located, "rig" | "drill" | "observedMBps">[] {
  const own = observations.filter(({ rig }) => observedWith(rig, trial.rig));
  const byRig = new Map<string, Observation[]>();
  for (const one of own) byRig.set(one.rig.id, [...(byRig.get(one.rig.id) ?? []), one]);
  return [...byRig.values()].map((of) => {
    const { rig, drill } = of[0]!;
    const rates = of.flatMap(({ repeats }) => repeats.values);
    // Of one rig alone the trial may be what it gave in one state of its drive: that is explained then.
    const isInState = byRig.size === 1 && (trial.states ?? []).length > 0;
    return { rig, drill, observedMBps: isInState ? trial.median : median(rates) };
  });
}

/** The rigs from which one change leads on: the slowest against their ledger, and the fastest. */
function basesOf({ trials }: Posterior, asked?: Observation): Rig[] {
  const { slow, fast } = asked ? FEW_BASES : BASES;
  const short = ({ median, ledger }: Trial) => median / ledger.least;
  const order = trials.toSorted((a, b) => short(a) - short(b)).map(({ rig }) => rig);
  const first = asked ? order.filter((rig) => observedWith(rig, asked.rig)) : [];
  return [...new Set([...first, ...order.slice(0, slow), ...order.slice(-fast)])];
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

/** Explanations at one place, or at several that cannot be told apart, with the probability of all together. */
export interface Place {
  key: string;
  probability: number;
  explanations: Explanation[];
}

/**
 * Explanations by place, the likeliest first. Places that cannot be told apart stand together, but for one
 * that is likely by itself: it is named alone, with its own probability.
 */
export const placesOf = (explanations: readonly Explanation[]): Place[] =>
  inseparable(explanations)
    .flatMap(withoutLeader)
    .toSorted((a, b) => b.probability - a.probability);

/** From here on one of several places that cannot be told apart is named by itself. */
const LEADS = 0.5;

/** Explanations by what no run on this shelf can separate, the likeliest first. */
export function inseparable(explanations: readonly Explanation[]): Place[] {
  const found = new Map<string, Explanation[]>();
  for (const one of explanations) {
    const key = one.group ?? one.place;
    found.set(key, [...(found.get(key) ?? []), one]);
  }
  return [...found]
    .map(([key, list]) => placeOf(key, list))
    .toSorted((a, b) => b.probability - a.probability);
}

const placeOf = (key: string, explanations: Explanation[]): Place => ({
  key,
  probability: explanations.reduce((sum, { probability }) => sum + probability, 0),
  explanations,
});

/** The one that is likely by itself, and the others of its group. */
function withoutLeader({ key, explanations, probability }: Place): Place[] {
  const whole = [{ key, explanations, probability }];
  const leader = [...new Set(explanations.map(({ place }) => place))]
    .map((place) =>
      placeOf(
        place,
        explanations.filter((one) => one.place === place),
      ),
    )
    .find((one) => one.probability >= LEADS);
  if (!leader) return whole;
  const others = explanations.filter(({ place }) => place !== leader.key);
  return others.length === 0 ? whole : [leader, placeOf(`${key} and others`, others)];
}
