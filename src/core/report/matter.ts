import { letteredRigs, letterOf } from "../answer/lettered-rig";
import { answerFor, drillsDone, type StudyAnswer } from "../answer/study";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { conclude, type Conclusions } from "../conclude/conclusions";
import { dropsFrom } from "../conclude/drops";
import type { Drop } from "../judge/bursts";
import type { Judged } from "../judge/judged";
import type { Located } from "../locate/locate";
import type { Opinion } from "../locate/hypotheses/opinion";
import type { FiledStudy } from "../exchange/study-file";
import type { BriefMeasurement, Observation } from "../study/measurement";
import { formatDay } from "../units/day";
import { ratesIn, type RateWords } from "../units/number";
import { Direction } from "../units/rate";
import { type ReportChoice } from "../study/report-choice";
import type { Earlier } from "./earlier";
import type { PhotoData } from "../study/photo";

/** What a report is made of: a study as in its file, and what stands beside it. */
export interface ReportInput {
  /** Of its runs those come with a trace that are drawn (`tracedIn`). */
  filed: Pick<FiledStudy, "study" | "parts" | "rigs" | "networks" | "checks"> & {
    measurements: BriefMeasurement[];
  };
  /** The parts at hand; without them those of the study. */
  shelf?: readonly Part[];
  opinion?: Opinion;
  /** Machines at hand that a drive can be connected to. */
  hosts?: readonly string[];
  /** When it is made, ISO 8601. */
  at: string;
  /** The pictures of the bench that were chosen, by their identifiers. */
  photos?: Readonly<Record<string, PhotoData>>;
  /** What the issue before it said; null where there is none. */
  earlier?: Earlier | null;
  /** What slowed long runs down whose traces are left out, by their measurements. */
  drops?: Readonly<Record<string, Drop | null>>;
}

/** Everything that sections of a report are written from, worked out once. */
export interface Matter extends Required<ReportInput> {
  choice: ReportChoice;
  rates: RateWords;
  /** The answers of every drill that was done, both ways. */
  answers: StudyAnswer[];
  conclusions: Conclusions;
  /** What was seen of the rigs as they stand. */
  seen: readonly Observation[];
  judged: readonly Judged[];
  /** What all runs say of the rigs that something holds back. */
  located: Located[];
  letter(rigId: string): string;
  /** A day as this report writes it. @param at ISO 8601 */
  day(at: string): string;
}

/** Rigs that are argued about in one report. */
const MOST_ARGUED = 12;

/** Works out what a report is written from. */
export function matterOf(input: ReportInput, choice: ReportChoice): Matter {
  const { filed, drops = {} } = input;
  const { study, rigs, measurements, parts } = filed;
  const rates = ratesIn(choice.unit);
  const shelf = input.shelf ?? parts;
  const own = dropsFrom(measurements);
  const conclusions = conclude({
    rigs,
    measurements,
    tolerance: study.tolerance,
    parts: rigsFirst(parts, rigs),
    shelf,
    opinion: input.opinion,
    hosts: input.hosts,
    networks: filed.networks,
    checks: filed.checks,
    dropIn: (ids) => drops[ids[0] ?? ""] ?? own(ids),
  });
  const answers = Direction.options.flatMap((direction): StudyAnswer[] => {
    const done = drillsDone(measurements, direction);
    // The first drill of a direction is the one that the study answers with.
    return [
      answerFor(conclusions, direction, { drill: done[0]?.name ?? null, rates }),
      ...done.slice(1).map((drill) => ({
        direction,
        drill: drill.name,
        verdicts: [],
        rigs: letteredRigs(conclusions, drill, direction),
        groups: [],
        headline: [],
        told: [],
        next: null,
      })),
    ];
  });
  const held = answers.flatMap(({ drill, direction, rigs: lettered }) =>
    lettered.flatMap(({ rig, standing }) => {
      const seen = conclusions.knownIn(drill, direction).get(rig.id);
      return seen && standing && standing.likeliest?.kind !== "as-designed" ? [seen] : [];
    }),
  );
  const letters = new Map(rigs.map(({ id }, i) => [id, letterOf(i)]));
  return {
    shelf,
    opinion: conclusions.opinion,
    hosts: [],
    drops,
    earlier: null,
    photos: {},
    ...input,
    choice,
    rates,
    answers,
    conclusions,
    seen: conclusions.seen,
    judged: conclusions.judged(rates),
    located: held.slice(0, MOST_ARGUED).flatMap((one) => conclusions.locatedOf(one) ?? []),
    letter: (id) => letters.get(id) ?? "–",
    day: (at) => formatDay(at, choice.dates),
  };
}

/** The parts of a study that stand in a rig come first, in the order in which they were entered. */
function rigsFirst(parts: readonly Part[], rigs: readonly Rig[]): Part[] {
  const used = new Set(
    rigs.flatMap((rig) => [...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id)),
  );
  return [...parts.filter(({ id }) => used.has(id)), ...parts.filter(({ id }) => !used.has(id))];
}
