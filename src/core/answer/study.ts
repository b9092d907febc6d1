import { judgedClaims } from "../chain/claim";
import type { Rig } from "../chain/rig";
import type { Conclusions } from "../conclude/conclusions";
import { DRILLS, findDrill, USUAL_DRILL } from "../drills/catalogue";
import { drillKey } from "../drills/drill";
import type { DrillKind } from "../drills/kind";
import type { Judged } from "../judge/judged";
import type { Verdict } from "../judge/verdict";
import { findingOf, heldAgainst, type Finding } from "../locate/findings/finding";
import type { Standing } from "../locate/findings/standing";
import { conditionsDiffer } from "../study/condition-rows";
import { counts, type BriefMeasurement, type Observation } from "../study/measurement";
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
  measurements: readonly BriefMeasurement[],
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

/** How an answer is asked for. */
export interface Wanted {
  /** The drill that is asked for; null: the first of the list that was done. */
  drill?: string | null;
  /** How rates are written in its sentences. */
  rates?: RateWords;
  /** Whether what holds rigs back is worked out too, which takes most of the time; it is, if left out. */
  located?: boolean;
}

/**
 * Answers a study: gathers what each rig showed in one drill, with what all runs together say of it, and
 * says what limits each rig and whether the enclosures deliver.
 *
 * @param conclusions of the study
 */
export function answerFor(
  study: Pick<Study, "smallestEffect">,
  conclusions: Conclusions,
  direction: Direction,
  { drill = null, rates = IN_MB, located = true }: Wanted = {},
): StudyAnswer {
  const { measurements } = conclusions;
  const asked =
    (drill === null ? drillsDone(measurements, direction)[0] : findDrill(drill)) ?? USUAL_DRILL;
  const alone = letteredRigs(conclusions, asked, direction);
  const lettered = located ? stood(alone, asked.name, direction, conclusions) : alone;
  const verdicts = enclosuresIn(conclusions.judged(rates), direction);
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
 * The rigs of a study with what each is known by in one drill and direction, and what that says of it by
 * itself: what all runs together say is left open.
 */
export function letteredRigs(
  { rigs, knownIn }: Pick<Conclusions, "rigs" | "knownIn">,
  drill: DrillKind,
  direction: Direction,
): LetteredRig[] {
  const small = drill.shows.includes("iops");
  const known = knownIn(drill.name, direction);
  const first = rigs.findIndex(({ id }) => known.has(id));
  return rigs.map((rig, index): LetteredRig => {
    const observation = known.get(rig.id) ?? null;
    return {
      letter: letterOf(index),
      rig,
      standing: null,
      observation:
        observation && withDifferences(observation, known.get(rigs[first]!.id)!, letterOf(first)),
      finding: observation && findingOf(rig, direction, observation.repeats, small),
    };
  });
}

/** The same rigs with what all runs together say of them; of very many, of those that lose most. */
function stood(
  alone: readonly LetteredRig[],
  drill: string,
  direction: Direction,
  { knownIn, standingOf, areFew }: Conclusions,
): LetteredRig[] {
  const known = knownIn(drill, direction);
  const few = areFew(drill, direction);
  const slow = alone
    .filter(({ finding }) => finding?.kind === "below")
    .toSorted((a, b) => a.finding!.efficiency - b.finding!.efficiency)
    .slice(0, MOST_STANDING);
  return alone.map((one): LetteredRig => {
    const observation = known.get(one.rig.id);
    const standing = observation && (few || slow.includes(one)) ? standingOf(observation) : null;
    const { rig, finding } = one;
    return {
      ...one,
      standing,
      finding: finding && heldAgainst(finding, rig, direction, observation!.repeats, standing),
    };
  });
}

/** The claims of the enclosures in one direction: what an answer tells of. */
const enclosuresIn = (judged: readonly Judged[], direction: Direction): Verdict[] =>
  judged
    .filter(({ part }) => part.kind === "enclosure")
    .flatMap((one) =>
      judgedClaims([one.claim], direction).map((claim) => ({
        ...one,
        claim,
        reasons: [...one.reasons, ...one.impossible],
      })),
    );

/** Warns where a rig was measured under other conditions than the first one. */
function withDifferences(seen: Observation, first: Observation, letter: string): Observation {
  const differs = conditionsDiffer(seen.circumstances, first.circumstances);
  if (differs.length === 0) return seen;
  const words = differs.map(({ what, a, b }) => `${what} ${a}, there ${b}`).join("; ");
  return { ...seen, cautions: [...seen.cautions, `other conditions than ${letter}: ${words}`] };
}
