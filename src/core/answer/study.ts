import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { DRILLS, findDrill, USUAL_DRILL } from "../drills/catalogue";
import { drillKey } from "../drills/drill";
import type { DrillKind } from "../drills/kind";
import { judgeClaims } from "../judge/study-claims";
import type { Verdict } from "../judge/verdict";
import { findingOf, heldAgainst, type Finding } from "../locate/findings/finding";
import { candidateParts } from "../locate/steps/candidate-parts";
import { locate } from "../locate/locate";
import { USUAL_OPINION, type Opinion } from "../locate/hypotheses/opinion";
import { TOGETHER } from "../locate/observations/pooled";
import { standingOf, type Standing } from "../locate/findings/standing";
import { conditionsDiffer } from "../study/condition-rows";
import {
  byRigOf,
  counts,
  isOf,
  observationsOf,
  observe,
  type Measurement,
  type Observation,
} from "../study/measurement";
import type { Study } from "../study/study";
import { IN_MB, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { answerStudy, type Answer } from "./answer";

/** A rig of a study with its letter and what was seen through it in the direction asked for. */
export interface LetteredRig {
  letter: string;
  rig: Rig;
  observation: Observation | null;
  /** What that says of the rig. */
  finding: Finding | null;
  /** What all runs together say of it; null where that was not worked out. */
  standing: Standing | null;
}

/** Everything the answer page shows for one drill in one direction. */
export interface StudyAnswer {
  direction: Direction;
  /** Which drill it answers for, by name. */
  drill: string;
  rigs: LetteredRig[];
  answer: Answer;
  verdicts: Verdict[];
}

/** The letter of the nth rig: A, B, ... Z, AA, AB, ... */
export function letterOf(index: number): string {
  const last = String.fromCharCode(65 + (index % 26));
  return index < 26 ? last : letterOf(Math.floor(index / 26) - 1) + last;
}

/**
 * The drills that were done in a study in one direction, in the order in which drills are listed.
 *
 * @param measurements of the study
 */
export const drillsDone = (
  measurements: readonly Measurement[],
  direction: Direction,
): DrillKind[] =>
  DRILLS.filter(({ name }) =>
    measurements.some(
      ({ drill, runs }) =>
        drill.name === name && drill.direction === direction && runs.some(counts),
    ),
  );

/** Of more slow rigs than can be weighed together, so many are looked at: those that lose most. */
const MOST_STANDING = 1;

/** What an answer rests on beside the runs. */
export interface Beside {
  /** The parts at hand; without them those of the rigs. */
  shelf?: readonly Part[];
  opinion?: Opinion;
  /** Whether what holds rigs back is worked out too, which takes most of the time; it is, if left out. */
  located?: boolean;
}

/**
 * Answers a study: gathers what each rig showed in one drill, judges the enclosures' claims, and says
 * what limits each rig.
 *
 * @param measurements of the study, the latest first
 * @param drillName the drill that is asked for; null: the first of the list that was done
 * @param rates how rates are written in its sentences
 * @param beside the shelf and the tester's opinion, which Locate rests on too
 */
export function answerFor(
  study: Study,
  rigs: readonly Rig[],
  measurements: readonly Measurement[],
  direction: Direction,
  drillName: string | null = null,
  rates = IN_MB,
  beside: Beside = {},
): StudyAnswer {
  // What a rig was before it was changed, or before it was taken out, may have been said wrongly.
  const byId = new Map(rigs.map((rig) => [rig.id, rig]));
  const all = observationsOf(measurements).filter((one) => {
    const rig = byId.get(one.rig.id);
    return rig !== undefined && isOf(one, rig);
  });
  const asked =
    (drillName === null ? drillsDone(measurements, direction)[0] : findDrill(drillName)) ??
    USUAL_DRILL;
  const observations = all.filter(({ drill }) => drill.name === asked.name);
  const small = asked.shows.includes("iops");
  const alone = letteredRigs(rigs, observations, direction, small);
  // What conditions differ in is noted on a copy: a measurement is of one observation only.
  const idsOf = (list: readonly LetteredRig[]) =>
    new Set(list.flatMap(({ observation }) => observation?.measurementIds[0] ?? []));
  const looked = idsOf(alone);
  const below = alone
    .filter(({ finding }) => finding?.kind === "below")
    .toSorted((a, b) => a.finding!.efficiency - b.finding!.efficiency);
  const slow = idsOf(below.length > TOGETHER ? below.slice(0, MOST_STANDING) : below);
  const few = observations.length <= TOGETHER;
  const standings =
    beside.located === false
      ? new Map<Rig, Standing>()
      : standingsIn(all, ({ measurementIds: [id] }) => (few ? looked : slow).has(id!), {
          shelf: partsOf(rigs),
          opinion: USUAL_OPINION,
          ...beside,
        });
  const lettered = alone.map((one): LetteredRig => {
    const { rig, observation, finding } = one;
    const standing = (observation && standings.get(observation.rig)) ?? null;
    return {
      ...one,
      standing,
      finding: finding && heldAgainst(finding, rig, direction, observation!.repeats, standing),
    };
  });
  // What was simulated shows nothing of parts that something real is known of.
  const real = all.filter(isReal);
  const verdicts = verdictsOn(study, rigs, real.length > 0 ? real : all, direction, rates, beside);
  const entries = lettered.map(({ letter, rig, observation, finding, standing }) => ({
    letter,
    rig,
    finding,
    standing,
    observed: observation?.repeats ?? null,
    drill: observation && drillKey(observation.drill),
    ...(observation ? { doubtful: observation.doubtful, origin: observation.origin } : {}),
  }));
  return {
    direction,
    drill: asked.name,
    rigs: lettered,
    answer: answerStudy(entries, direction, verdicts, study.smallestEffect, rates),
    verdicts,
  };
}

/**
 * The rigs of a study with what was seen of each in one drill and direction, and what that says of it by
 * itself: what all runs together say is left open.
 *
 * @param observations of that drill
 * @param small whether it asks for small requests
 */
export function letteredRigs(
  rigs: readonly Rig[],
  observations: readonly Observation[],
  direction: Direction,
  small: boolean,
): LetteredRig[] {
  const byRig = byRigOf(observations);
  const seen = rigs.map((rig) => observe(byRig.get(rig.id) ?? [], rig, direction));
  const first = seen.findIndex((observation) => observation !== null);
  return rigs.map((rig, index): LetteredRig => {
    const observation = seen[index]!;
    return {
      letter: letterOf(index),
      rig,
      standing: null,
      observation: observation && withDifferences(observation, seen[first]!, letterOf(first)),
      finding: observation && findingOf(rig, direction, observation.repeats, small),
    };
  });
}

/**
 * What all runs together say of rigs.
 *
 * @param wanted of which, by what was seen of them
 * @returns by the rig as it was seen
 */
function standingsIn(
  all: readonly Observation[],
  wanted: (seen: Observation) => boolean,
  { shelf, opinion }: Required<Omit<Beside, "located">>,
): Map<Rig, Standing> {
  const real = all.filter(isReal);
  const seen = real.some(wanted) ? real : all;
  const some = new Set(seen.filter(wanted));
  const located = locate(seen, shelf, {
    of: (one) => some.has(one as Observation),
    next: false,
    opinion,
  });
  return new Map(located.map((one) => [one.rig, standingOf(one)]));
}

const partsOf = (rigs: readonly Rig[]): Part[] => [
  ...new Map(
    rigs.flatMap((rig) =>
      [...rig.parts, ...rig.beside, ...rig.other].map((part) => [part.id, part] as const),
    ),
  ).values(),
];

/** Whether it was seen of real parts, by whomever. */
const isReal = ({ origin }: Observation) => origin !== "simulated";

/** Warns where a rig was measured under other conditions than the first one. */
function withDifferences(seen: Observation, first: Observation, letter: string): Observation {
  const differs = conditionsDiffer(seen.circumstances, first.circumstances);
  if (differs.length === 0) return seen;
  const words = differs.map(({ what, a, b }) => `${what} ${a}, there ${b}`).join("; ");
  return { ...seen, cautions: [...seen.cautions, `other conditions than ${letter}: ${words}`] };
}

/** The claims of a study's enclosures, each held against the drills that can show it. */
function verdictsOn(
  study: Study,
  rigs: readonly Rig[],
  observations: readonly Observation[],
  direction: Direction,
  rates: RateWords,
  beside: Beside,
): Verdict[] {
  const enclosures = new Map(
    rigs.flatMap(({ parts }) =>
      parts.filter(({ kind }) => kind === "enclosure").map((part) => [part.id, part] as const),
    ),
  );
  const { tolerance } = study;
  return judgeClaims(
    [...enclosures.values()],
    {
      rigs,
      observations,
      tolerance,
      rates,
      ...beside,
      shelf: candidateParts(beside.shelf ?? partsOf(rigs), rigs),
    },
    direction,
  );
}
