import type { Conclusions } from "../conclude/conclusions";
import { kindOf } from "../drills/drill";
import { summarise } from "../stats/repeats";
import { counts, isHostSpoiled, type BriefMeasurement } from "../study/measurement";
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
 * @param answer of its drill and direction
 * @returns null where it has no result that counts
 */
export function toldRun(
  measurement: BriefMeasurement,
  answer: StudyAnswer,
  conclusions: Pick<Conclusions, "seen">,
  rates: RateWords,
): ToldRun | null {
  const results = measurement.runs.filter(counts).flatMap(({ result }) => result ?? []);
  if (results.length === 0) return null;
  const counted = kindOf(measurement.drill).shows.includes("iops");
  const rate = summarise(results.map(({ meanMBps }) => meanMBps));
  const seen = conclusions.seen.find((one) => one.measurementIds.includes(measurement.id));
  const at = answer.groups.findIndex((group) =>
    group.rigs.some(({ observation }) => observation?.measurementIds.includes(measurement.id)),
  );
  const rig = answer.rigs.find((one) => one.rig.id === measurement.rigId);
  const isSpoiled = seen && rig?.observation && isHostSpoiled(seen);
  const isForeseen = rig?.finding && rig.finding.kind !== "by requests" && at >= 0;
  const ceiling = isForeseen ? (allowedBy(rig, answer.direction)?.ceiling ?? null) : null;
  return {
    drill: measurement.drill.name,
    median: counted ? summarise(results.map(({ iops }) => iops)).median : rate.median,
    counted,
    repeats: rate.n,
    spread: rate.n > 1 ? rate.spread : null,
    ceiling,
    share: ceiling === null ? null : rate.median / ceiling,
    cautions: seen?.cautions ?? [],
    cause: at < 0 || !rig ? null : tellCause(answer.groups[at]!, rig, rates),
    next: isSpoiled
      ? repeatOnIdleHost(rig, answer.direction)
      : at < 0
        ? null
        : (answer.told[at]!.next ?? answer.next),
  };
}
