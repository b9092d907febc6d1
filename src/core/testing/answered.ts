import { answerFor, type StudyAnswer } from "../answer/study";
import type { Rig } from "../chain/rig";
import { conclude } from "../conclude/conclusions";
import type { BriefMeasurement } from "../study/measurement";
import type { Study } from "../study/study";
import type { Direction } from "../units/rate";

/** A study's answer by its runs alone, with no other shelf than the parts of its rigs. */
export const answered = (
  study: Pick<Study, "tolerance" | "smallestEffect">,
  rigs: readonly Rig[],
  measurements: readonly BriefMeasurement[],
  direction: Direction,
  drill: string | null = null,
): StudyAnswer =>
  answerFor(conclude({ rigs, measurements, tolerance: study.tolerance }), direction, {
    drill,
  });
