import type { Conclusions } from "../conclude/conclusions";
import { kindOf } from "../drills/drill";
import { summarise } from "../stats/repeats";
import type { BriefResult } from "../run/brief";
import {
  counts,
  isHostSpoiled,
  type BriefMeasurement,
  type Observation,
} from "../study/measurement";
import type { RateWords } from "../units/number";
import { allowedBy } from "./cause-group";
import { repeatOnIdleHost, type NextStep } from "./next-step";
import type { StudyAnswer } from "./study";
import { tellCause } from "./tell-group";

/** What a finished measurement came to: its rate first, then what limits it and what to do next. */
export interface ToldRun {
  /** Its drill, by name. */
  drill: string;
  /** Median of its repeats: MB/s, or requests a second where those are counted. */
  median: number;
  counted: boolean;
  /** Of recorded work, what it is known by: its time, and of that the time that it waited for the drive. */
  work: { seconds: number; waitedSeconds: number } | null;
  repeats: number;
  /** Relative spread of the repeats; null of a single one. */
  spread: number | null;
  /** The ceiling it is held against, MB/s, and its share; null where the ledger foresees no rate. */
  ceiling: number | null;
  share: number | null;
  /** What makes it doubtful; empty where nothing does. */
  cautions: readonly string[];
  /** What limits the rig, in a sentence; null where its runs count for nothing. */
  cause: string | null;
  next: NextStep | null;
}

/**
 * What a measurement of a study came to.
 *
 * @param answer of its drill and direction; null of one that goes both ways, which no ceiling is for
 * @returns null where it has no result that counts
 */
export function toldRun(
  measurement: BriefMeasurement,
  answer: StudyAnswer | null,
  conclusions: Pick<Conclusions, "seen">,
  rates: RateWords,
): ToldRun | null {
  const results = measurement.runs.filter(counts).flatMap(({ result }) => result ?? []);
  if (results.length === 0) return null;
  const counted = kindOf(measurement.drill).shows.includes("iops");
  const rate = summarise(results.map(({ meanMBps }) => meanMBps));
  const seen = conclusions.seen.find((one) => one.measurementIds.includes(measurement.id));
  const work = workOf(results);
  return {
    drill: measurement.drill.name,
    median: counted ? summarise(results.map(({ iops }) => iops)).median : rate.median,
    counted,
    work,
    repeats: rate.n,
    spread: rate.n > 1 ? (work ? summarise(results.map(({ ms }) => ms)) : rate).spread : null,
    cautions: seen?.cautions ?? [],
    ...(answer ? answered(measurement, answer, seen, rate.median, rates) : UNANSWERED),
  };
}

/** Of a measurement that no answer is about. */
const UNANSWERED = { ceiling: null, share: null, cause: null, next: null };

/** Its share of a ceiling, what limits it and what to do next. @param median MB/s */
function answered(
  measurement: BriefMeasurement,
  answer: StudyAnswer,
  seen: Observation | undefined,
  median: number,
  rates: RateWords,
): Pick<ToldRun, "ceiling" | "share" | "cause" | "next"> {
  const at = answer.groups.findIndex((group) =>
    group.rigs.some(({ observation }) => observation?.measurementIds.includes(measurement.id)),
  );
  const rig = answer.rigs.find((one) => one.rig.id === measurement.rigId);
  const isSpoiled = seen && rig?.observation && isHostSpoiled(seen);
  const isForeseen = rig?.finding && rig.finding.kind !== "by requests" && at >= 0;
  const ceiling = isForeseen ? (allowedBy(rig, answer.direction)?.ceiling ?? null) : null;
  return {
    ceiling,
    share: ceiling === null ? null : median / ceiling,
    cause: at < 0 || !rig ? null : tellCause(answer.groups[at]!, rig, rates),
    next: isSpoiled
      ? repeatOnIdleHost(rig, answer.direction)
      : at < 0
        ? null
        : (answer.told[at]!.next ?? answer.next),
  };
}

/** The middle time of recorded work that was done again; null where the drill does none. */
function workOf(results: readonly BriefResult[]): ToldRun["work"] {
  const waited = results.flatMap(({ replayWaitedMs }) => replayWaitedMs ?? []);
  if (waited.length === 0) return null;
  return {
    seconds: summarise(results.map(({ ms }) => ms)).median / 1e3,
    waitedSeconds: summarise(waited).median / 1e3,
  };
}
