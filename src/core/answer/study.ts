import type { Rig } from "../chain/rig";
import { DRILLS, findDrill, USUAL_DRILL } from "../drills/catalogue";
import { drillKey } from "../drills/drill";
import type { DrillKind } from "../drills/kind";
import { judgeClaims } from "../judge/study-claims";
import type { Verdict } from "../judge/verdict";
import { gatherEvidence } from "../locate/evidence";
import { findingOf, type Finding } from "../locate/finding";
import { conditionsDiffer } from "../study/condition-rows";
import {
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
  /** What that says of the rig, together with the study's other runs. */
  finding: Finding | null;
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

/**
 * Answers a study: gathers what each rig showed in one drill, judges the enclosures' claims, and says
 * what limits each rig.
 *
 * @param measurements of the study, the latest first
 * @param drillName the drill that is asked for; null: the first of the list that was done
 * @param rates how rates are written in its sentences
 */
export function answerFor(
  study: Study,
  rigs: readonly Rig[],
  measurements: readonly Measurement[],
  direction: Direction,
  drillName: string | null = null,
  rates = IN_MB,
): StudyAnswer {
  // What a rig was before it was changed, or before it was taken out, may have been said wrongly.
  const all = observationsOf(measurements).filter((seen) => rigs.some((rig) => isOf(seen, rig)));
  const asked =
    (drillName === null ? drillsDone(measurements, direction)[0] : findDrill(drillName)) ??
    USUAL_DRILL;
  const observations = all.filter(({ drill }) => drill.name === asked.name);
  const evidence = {
    real: gatherEvidence(observations.filter(isReal)),
    simulated: gatherEvidence(observations.filter((seen) => !isReal(seen))),
  };
  const small = asked.shows.includes("iops");
  const seen = rigs.map((rig) => observe(observations, rig, direction));
  const first = seen.findIndex((observation) => observation !== null);
  const lettered = rigs.map((rig, index) => {
    const observation = seen[index]!;
    return {
      letter: letterOf(index),
      rig,
      observation: observation && withDifferences(observation, seen[first]!, letterOf(first)),
      finding:
        observation &&
        findingOf(
          rig,
          direction,
          observation.repeats,
          isReal(observation) ? evidence.real : evidence.simulated,
          small,
        ),
    };
  });
  // What was simulated shows nothing of parts that something real is known of.
  const real = all.filter(isReal);
  const verdicts = verdictsOn(study, rigs, real.length > 0 ? real : all, direction, rates);
  const entries = lettered.map(({ letter, rig, observation, finding }) => ({
    letter,
    rig,
    observed: observation?.repeats ?? null,
    finding,
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
): Verdict[] {
  const enclosures = new Map(
    rigs.flatMap(({ parts }) =>
      parts.filter(({ kind }) => kind === "enclosure").map((part) => [part.id, part] as const),
    ),
  );
  const { tolerance } = study;
  return judgeClaims([...enclosures.values()], { rigs, observations, tolerance, rates }, direction);
}
