import type { Rig } from "../chain/rig";
import { marksOf, type Marks } from "../locate/findings/finding";
import type { Direction } from "../units/rate";
import type { StudyAnswer } from "./study";

/** A study as the list of studies shows it. */
export interface StudyBrief {
  /** Which way the answer is for. */
  direction: Direction;
  /** What was found, in a sentence or a few. */
  headline: string;
  /** Whether simulated runs are among those that the answer rests on. */
  hasSimulated: boolean;
  /** The rigs to draw, the worst first. */
  rigs: BriefRig[];
}

/** A rig to draw in small. */
export interface BriefRig {
  letter: string;
  rig: Rig;
  /** What it gave, MB/s; null where it was not measured. */
  flow: number | null;
  marks: Marks;
}

/** More rigs than these are too small to be told apart. */
const MOST_DRAWN = 4;

/**
 * A study in brief: by its answer in reading, or in writing where nothing was read.
 *
 * @param answers in both directions, reading first
 */
export function studyBrief([reading, writing]: readonly [StudyAnswer, StudyAnswer]): StudyBrief {
  const isSeen = ({ rigs }: StudyAnswer) => rigs.some(({ observation }) => observation);
  const answer = !isSeen(reading) && isSeen(writing) ? writing : reading;
  const { direction, groups, headline, rigs } = answer;
  return {
    direction,
    headline: headline.map((sentence) => sentence.map(({ text }) => text).join("")).join(" "),
    hasSimulated: rigs.some(({ observation }) => observation?.origin === "simulated"),
    rigs: groups
      .flatMap((group) => group.rigs)
      .slice(0, MOST_DRAWN)
      .map((one) => ({
        letter: one.letter,
        rig: one.rig,
        flow: one.observation?.repeats.median ?? null,
        marks: marksOf(one, direction),
      })),
  };
}
