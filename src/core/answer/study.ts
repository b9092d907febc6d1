import { rateClaims } from "../chain/claim";
import type { Rig } from "../chain/rig";
import { drillKey } from "../drills/drill";
import { judgeClaim, type Verdict } from "../judge/verdict";
import { gatherEvidence } from "../locate/evidence";
import { findingOf, type Finding } from "../locate/finding";
import {
  isOf,
  observationsOf,
  observe,
  type Measurement,
  type Observation,
} from "../study/measurement";
import type { Study } from "../study/study";
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

/** Everything the answer page shows for one direction. */
export interface StudyAnswer {
  direction: Direction;
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
 * Answers a study: gathers what each rig showed, judges the enclosures' claims, and says what
 * limits each rig.
 *
 * @param measurements of the study, the latest first
 */
export function answerFor(
  study: Study,
  rigs: readonly Rig[],
  measurements: readonly Measurement[],
  direction: Direction,
): StudyAnswer {
  // What a rig was before it was changed, or before it was taken out, may have been said wrongly.
  const observations = observationsOf(measurements).filter((seen) =>
    rigs.some((rig) => isOf(seen, rig)),
  );
  const evidence = gatherEvidence(observations);
  const lettered = rigs.map((rig, index) => {
    const observation = observe(observations, rig, direction);
    return {
      letter: letterOf(index),
      rig,
      observation,
      finding: observation && findingOf(rig, direction, observation.repeats, evidence),
    };
  });
  const trials = lettered.map(({ rig, observation, finding }) => ({
    rig,
    observed: observation?.repeats ?? null,
    finding,
    doubtful: observation?.doubtful ?? false,
  }));
  const enclosures = new Map(
    rigs.flatMap(({ parts }) =>
      parts.filter(({ kind }) => kind === "enclosure").map((part) => [part.id, part] as const),
    ),
  );
  const verdicts = [...enclosures.values()].flatMap((part) =>
    rateClaims(part.claims, direction).map((claim) =>
      judgeClaim(part, claim, trials, evidence, study.tolerance),
    ),
  );
  const entries = lettered.map(({ letter, rig, observation, finding }) => ({
    letter,
    rig,
    observed: observation?.repeats ?? null,
    finding,
    drill: observation && drillKey(observation.drill),
  }));
  return {
    direction,
    rigs: lettered,
    answer: answerStudy(entries, direction, verdicts, study.smallestEffect),
    verdicts,
  };
}
