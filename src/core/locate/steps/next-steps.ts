import { differences } from "../../chain/difference";
import { PART_KIND_NAMES, type Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import type { Posterior } from "../posterior/posterior";
import { changesOf, type Change, type Choices } from "./change";
import { setUpKey } from "../../chain/set-up";
import { expect, isNew, type Blame, type NextSwap } from "./next-swap";
import type { Opinion } from "../hypotheses/opinion";
import type { Outlook } from "./predictive";
import type { Observation } from "../observations/observation";
import { LEAST_BITS, tellingDrills } from "./telling-drill";
import type { Trial } from "../likelihood/trial";
import type { Draw } from "../posterior/draw";

/** What all steps are chosen from. */
export interface Bearings {
  posterior: Posterior;
  draws: readonly Draw[];
  outlook: Outlook;
  /** Who holds the rig back, draw by draw. */
  blames: readonly Blame[];
  trial: Trial;
  shelf: readonly Part[];
  choices: Choices;
  opinion: Opinion;
}

/** Steps that are named. */
const MOST_STEPS = 12;
/** Minutes that two repeats and looking at them take. */
const MEASURING = 2;

/**
 * What to do next, the most telling first: single changes; where none tells anything, two of them one
 * after the other; and other drills on the same rig.
 *
 * @param possible single changes that were not measured yet
 * @param all that was seen, of other drills and directions too
 */
export function nextSteps(
  bearings: Bearings,
  possible: readonly Change[],
  all: readonly Observation[],
): NextSwap[] {
  const { trial, opinion } = bearings;
  const single = expected(bearings, possible, MOST_STEPS);
  const swaps = single.length > 0 ? single : twoSteps(bearings);
  const drills = tellingDrills(bearings, all);
  // They tell of kinds of cause, not of places: where a swap is left, that comes first.
  const [best] = swaps;
  const rest = [...swaps, ...drills].toSorted(
    (a, b) => worth(b, trial.rig, opinion) - worth(a, trial.rig, opinion),
  );
  return best ? [best, ...rest.filter((one) => one !== best)] : rest;
}

/** The most telling of some changes. */
function expected(
  { posterior, draws, outlook, blames, trial, opinion }: Bearings,
  changes: readonly Change[],
  most: number,
): NextSwap[] {
  const { rig, drill, median } = trial;
  return changes
    .flatMap((change) => {
      const predictive = outlook(change, drill);
      if (!predictive) return [];
      const { bits, outcomes } = expect(posterior, draws, blames, predictive, median);
      return bits >= LEAST_BITS ? [{ ...change, drill, bits, outcomes }] : [];
    })
    .toSorted((a, b) => worth(b, rig, opinion) - worth(a, rig, opinion))
    .slice(0, most)
    .map((step) => ({ ...step, outcomes: step.outcomes() }));
}

/**
 * For the fewest steps, what tells most; of changes that tell as much, the one that takes least and
 * leaves most of the rig as it is. For the fewest minutes, what tells most in each.
 */
function worth(
  { bits, minutes, rig }: Omit<NextSwap, "outcomes">,
  slow: Rig,
  { fewest }: Opinion,
): number {
  const told = bits - 1e-3 * minutes - 4e-3 * differences(rig, slow).length;
  return fewest === "minutes" ? told / (minutes + MEASURING) : told;
}

/** First steps that are looked beyond, and second ones of each. */
const [FIRST, SECOND] = [24, 24];
/** Ways of two steps that are named. */
const MOST_PAIRS = 3;

/** Two changes of the slow rig, one after the other, where no single one tells anything. */
function twoSteps(bearings: Bearings): NextSwap[] {
  const { posterior, trial, shelf, choices, opinion } = bearings;
  const found = new Map<string, Change>();
  for (const first of changesOf(trial.rig, shelf, choices, opinion).slice(0, FIRST)) {
    for (const second of changesOf(first.rig, shelf, choices, opinion).slice(0, SECOND)) {
      const key = setUpKey(second.rig);
      if (found.has(key) || !isNew(second, posterior)) continue;
      found.set(key, {
        ...second,
        base: trial.rig,
        text: `${first.text}, and ${second.text}`,
        minutes: first.minutes + second.minutes,
      });
    }
  }
  return expected(bearings, [...found.values()], MOST_PAIRS);
}

/**
 * The most useful part that is not on the shelf: another of a kind that stands in the rig, as good as
 * the one there says it is.
 *
 * @returns null where none would tell anything
 */
export function borrowed(bearings: Bearings): NextSwap | null {
  const { trial, opinion } = bearings;
  const kinds = new Map(trial.rig.parts.map((part) => [part.kind, part]));
  const others = [...kinds.values()].map((part) => ({
    ...part,
    id: `borrowed ${part.kind}`,
    name: `another ${PART_KIND_NAMES[part.kind]}`,
    limits: part.kind === "drive" ? part.limits : {},
  }));
  const changes = changesOf(trial.rig, others, { fileSystems: [], hosts: [] }, opinion).filter(
    ({ kind }) => kind === "exchange",
  );
  return expected(bearings, changes, 1)[0] ?? null;
}
