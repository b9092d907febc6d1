import { answerFor, drillsDone, letteredRigs, letterOf, type StudyAnswer } from "../answer/study";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { judgeAll, type Judged } from "../judge/judged";
import type { DropIn } from "../judge/bursts";
import { dropOf } from "../judge/drop";
import { openRun } from "../study/open-run";
import { locate, type Located } from "../locate/locate";
import { USUAL_OPINION, type Opinion } from "../locate/hypotheses/opinion";
import { TOGETHER } from "../locate/observations/pooled";
import {
  counts,
  isOf,
  observationsOf,
  type Measurement,
  type Observation,
} from "../study/measurement";
import type { FiledStudy } from "../exchange/study-file";
import { ratesIn, type RateWords } from "../units/number";
import { Direction } from "../units/rate";
import { dated, type ReportChoice } from "../study/report-choice";
import type { Earlier } from "./earlier";
import type { PhotoData } from "../study/photo";

/** What a report is made of: a study as in its file, and what stands beside it. */
export interface ReportInput {
  /** Of its runs the traces may be left out that are not drawn (`tracedIn`). */
  filed: Pick<FiledStudy, "study" | "parts" | "rigs" | "measurements">;
  /** The parts at hand; without them those of the study. */
  shelf?: readonly Part[];
  opinion?: Opinion;
  /** When it is made, ISO 8601. */
  at: string;
  /** The pictures of the bench that were chosen, by their identifiers. */
  photos?: Readonly<Record<string, PhotoData>>;
  /** What the issue before it said; null where there is none. */
  earlier?: Earlier | null;
}

/** Everything that sections of a report are written from, worked out once. */
export interface Matter extends Required<ReportInput> {
  choice: ReportChoice;
  rates: RateWords;
  /** The answers of every drill that was done, both ways. */
  answers: StudyAnswer[];
  judged: Judged[];
  /** What all runs say of the rigs that something holds back. */
  located: Located[];
  /** What was seen of the rigs as they stand. */
  seen: Observation[];
  letter(rigId: string): string;
  /** A day as this report writes it. @param at ISO 8601 */
  day(at: string): string;
}

/** Rigs that are argued about in one report. */
const MOST_ARGUED = 12;

/** Works out what a report is written from. */
export function matterOf(input: ReportInput, choice: ReportChoice): Matter {
  const { filed } = input;
  const { study, rigs, measurements, parts } = filed;
  const rates = ratesIn(choice.unit);
  const opinion = input.opinion ?? USUAL_OPINION;
  const shelf = input.shelf ?? parts;
  const byId = new Map(rigs.map((rig) => [rig.id, rig]));
  const seen = observationsOf(measurements).filter((one) => {
    const rig = byId.get(one.rig.id);
    return rig !== undefined && isOf(one, rig);
  });
  const real = seen.filter(({ origin }) => origin !== "simulated");
  const counting = real.length > 0 ? real : seen;
  const beside = { shelf, opinion };
  const answers = Direction.options.flatMap((direction): StudyAnswer[] => {
    const done = drillsDone(measurements, direction);
    // The first drill of a direction is the one that the study answers with.
    return [
      answerFor(study, rigs, measurements, direction, done[0]?.name ?? null, rates, beside),
      ...done.slice(1).map(({ name, shows }) => ({
        direction,
        drill: name,
        verdicts: [],
        rigs: letteredRigs(
          rigs,
          seen.filter(({ drill }) => drill.name === name),
          direction,
          shows.includes("iops"),
        ),
        answer: { sentences: [], findings: {}, open: null },
      })),
    ];
  });
  const slow = new Set(
    answers.flatMap((answer) =>
      answer.rigs.flatMap(({ observation, standing }) =>
        observation && standing && standing.likeliest?.kind !== "as-designed"
          ? [observation.rig]
          : [],
      ),
    ),
  );
  const judged = judgeAll(rigsFirst(parts, rigs), {
    rigs,
    observations: counting,
    tolerance: study.tolerance,
    shelf,
    rates,
    opinion,
    dropIn: dropsIn(measurements),
  });
  const named = [...slow].slice(0, MOST_ARGUED);
  const isNamed = ({ rig }: Pick<Observation, "rig">) => named.includes(rig);
  const located =
    named.length === 0
      ? []
      : locate(counting, shelf, { of: isNamed, opinion, next: counting.length <= TOGETHER * 4 });
  const letters = new Map(rigs.map(({ id }, i) => [id, letterOf(i)]));
  return {
    shelf,
    opinion,
    earlier: null,
    photos: {},
    ...input,
    choice,
    rates,
    answers,
    judged,
    seen,
    located: located.filter(({ rig }) => slow.has(rig)),
    letter: (id) => letters.get(id) ?? "–",
    day: (at) => dated(at, choice.dates),
  };
}

/** The parts of a study that stand in a rig come first, in the order in which they were entered. */
function rigsFirst(parts: readonly Part[], rigs: readonly Rig[]): Part[] {
  const used = new Set(
    rigs.flatMap((rig) => [...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id)),
  );
  return [...parts.filter(({ id }) => used.has(id)), ...parts.filter(({ id }) => !used.has(id))];
}

/** Places of a trace that is read and not drawn. */
const FEW = 10;

function dropsIn(measurements: readonly Measurement[]): DropIn {
  const byId = new Map(measurements.map((one) => [one.id, one]));
  return ([id]) => {
    const one = id === undefined ? undefined : byId.get(id);
    const run = one?.runs.find(counts);
    return one && run ? dropOf(openRun(one, run, FEW)) : null;
  };
}
