import { differences } from "../chain/difference";
import { PART_KIND_NAMES, type Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import { kindOf } from "../drills/drill";
import { DOING, type Direction } from "../units/rate";
import type { Belief } from "./believed";
import { changesOf, setUpKey, type Change, type Choices } from "./change";
import { expect, isNew, type Blame, type NextSwap, type Outcome } from "./next-swap";
import { entropyOf } from "./entropy";
import type { Opinion } from "./opinion";
import { observedWith, type Observation } from "./seen";
import { heldBothWays } from "./signature";
import type { Trial } from "./trial";
import type { World } from "./world";

/** What all steps are chosen from. */
export interface Bearings {
  belief: Belief;
  worlds: readonly World[];
  /** Who holds the rig back, world by world. */
  blames: readonly Blame[];
  trial: Trial;
  shelf: readonly Part[];
  choices: Choices;
  opinion: Opinion;
}

/** Steps that are named. */
const MOST_STEPS = 12;
/** What tells less is not worth a run, bits. */
const LEAST_BITS = 0.01;
/** Minutes that two repeats and looking at them take. */
const MEASURING = 2;

/**
 * What to do next, the most telling first: single changes; where none tells anything, two of them one
 * after the other; and the other direction of the same rig.
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
  const single = expected(bearings, possible).slice(0, MOST_STEPS);
  const swaps = single.length > 0 ? single : twoSteps(bearings);
  const turned = otherDirection(bearings, all);
  if (!turned) return swaps;
  // It tells of kinds of cause, not of places: where a swap is left, that comes first.
  const [best] = swaps;
  const rest = [...swaps, turned].toSorted(
    (a, b) => worth(b, trial.rig, opinion) - worth(a, trial.rig, opinion),
  );
  return best ? [best, ...rest.filter((one) => one !== best)] : [turned];
}

function expected(
  { belief, worlds, blames, trial, opinion }: Bearings,
  changes: readonly Change[],
): NextSwap[] {
  return changes
    .flatMap((change) => {
      const found = expect(belief, worlds, blames, change, trial.drill, trial.median);
      return found && found.bits >= LEAST_BITS ? [found] : [];
    })
    .toSorted((a, b) => worth(b, trial.rig, opinion) - worth(a, trial.rig, opinion));
}

/**
 * For the fewest steps, what tells most; of changes that tell as much, the one that takes least and
 * leaves most of the rig as it is. For the fewest minutes, what tells most in each.
 */
function worth({ bits, minutes, rig }: NextSwap, slow: Rig, { fewest }: Opinion): number {
  const told = bits - 1e-3 * minutes - 4e-3 * differences(rig, slow).length;
  return fewest === "minutes" ? told / (minutes + MEASURING) : told;
}

/** First steps that are looked beyond, and second ones of each. */
const [FIRST, SECOND] = [24, 24];

/** Two changes of the slow rig, one after the other, where no single one tells anything. */
function twoSteps(bearings: Bearings): NextSwap[] {
  const { belief, trial, shelf, choices, opinion } = bearings;
  const found = new Map<string, Change>();
  for (const first of changesOf(trial.rig, shelf, choices, opinion).slice(0, FIRST)) {
    for (const second of changesOf(first.rig, shelf, choices, opinion).slice(0, SECOND)) {
      const key = setUpKey(second.rig);
      if (found.has(key) || !isNew(second, belief)) continue;
      found.set(key, {
        ...second,
        base: trial.rig,
        text: `${first.text}, and ${second.text}`,
        minutes: first.minutes + second.minutes,
      });
    }
  }
  return expected(bearings, [...found.values()]).slice(0, 3);
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
  return expected(bearings, changes)[0] ?? null;
}

/** Beside what was seen the same rate may come out so much lower or higher. */
const AROUND = 0.2;

/** The same drill in the other direction, on the rig as it stands, where that was not done yet. */
function otherDirection(
  { belief, blames, worlds, trial }: Bearings,
  all: readonly Observation[],
): NextSwap | null {
  const { direction } = belief;
  const back: Direction = direction === "read" ? "write" : "read";
  const { rig, drill, median } = trial;
  const done = all.some(
    (one) =>
      one.drill.name === drill.name && one.drill.direction === back && observedWith(one.rig, rig),
  );
  if (done || !kindOf(drill).directions.includes(back)) return null;
  const attained = stagesOf(rig, back).map(({ attainable }) => attainable);
  if (attained.length === 0) return null;
  const low = Math.min(...attained.map((one) => one.low));
  const high = Math.min(...attained.map((one) => one.high));
  // By place: how likely the other direction is held back as well, and how likely it is not.
  const joint = new Map<string, [held: number, free: number]>();
  worlds.forEach(({ weight }, w) => {
    for (const { place, chance } of blames[w]!) {
      const both = heldBothWays(belief, place, trial);
      const row = joint.get(place) ?? [0, 0];
      row[0] += weight * chance * both;
      row[1] += weight * chance * (1 - both);
      joint.set(place, row);
    }
  });
  const rows = [...joint.values()];
  const totals = [0, 1].map((i) => rows.reduce((sum, row) => sum + row[i]!, 0));
  const before = entropyOf(rows.map(([held, free]) => held + free));
  const after = [0, 1].reduce(
    (sum, i) => sum + totals[i]! * entropyOf(rows.map((row) => row[i]!)),
    0,
  );
  const bits = before - after / (totals[0]! + totals[1]! || 1);
  if (bits < LEAST_BITS) return null;
  const then = (i: number): Outcome["then"] =>
    [...joint]
      .map(([place, row]) => ({ place, probability: row[i]! / (totals[i]! || 1) }))
      .toSorted((a, b) => b.probability - a.probability)
      .slice(0, 4);
  return {
    ...{ kind: "drill", text: `measure it ${DOING[back]} too`, base: rig, rig, minutes: 0, bits },
    drill: { ...drill, direction: back },
    outcomes: [
      {
        ...{ fromMBps: median * (1 - AROUND), toMBps: Math.min(low, median * (1 + AROUND)) },
        ...{ probability: totals[0]!, then: then(0) },
      },
      { fromMBps: low, toMBps: high, probability: totals[1]!, then: then(1) },
    ],
  };
}
