import { letterOf } from "../answer/lettered-rig";
import type { Rig } from "../chain/rig";
import { WATCHED } from "../drills/kinds/watched";
import { summarise } from "../stats/repeats";
import { counts, isSetUpOf, type BriefMeasurement, type Measurement } from "../study/measurement";
import type { DrillDirection } from "../drills/kind";
import type { Question } from "./question";

/** What one rig took for a job, in the middle of the times that it was done. */
export interface JobRow {
  letter: string;
  rigId: string;
  name: string;
  seconds: number;
  mbps: number;
  bytes: number;
  /** How often it was done, and whether Nerrit watched it or somebody held a stopwatch. */
  n: number;
  origins: Measurement["origin"][];
  runIds: string[];
  /** Whether it moved another amount than most rigs did, so that its seconds are of something else. */
  otherAmount: boolean;
}

/** A job that other programs did, by the name that the tester gave it. */
export interface JobShown {
  name: string;
  direction: DrillDirection;
  rows: JobRow[];
}

/** Amounts closer than this are the same: what file systems write beside the files differs. */
const SAME_AMOUNT = 0.05;

/**
 * Named jobs over rigs: compared with each other only, and never with a drill, since what was asked of the
 * drive is not known.
 *
 * @param rigs of the study as they stand
 */
export function jobsOf(
  measurements: readonly BriefMeasurement[],
  rigs: readonly Rig[],
  question: Pick<Question, "rigs" | "drive" | "direction">,
): JobShown[] {
  const jobs = new Map<string, { name: string; done: BriefMeasurement[] }>();
  for (const one of measurements) {
    const { drill } = one;
    const name = drill.title?.trim();
    if (drill.name !== WATCHED.name || !name || one.warmUp || !one.runs.some(counts)) continue;
    if (question.direction !== "both" && drill.direction !== question.direction) continue;
    const key = `${name.toLowerCase()} ${drill.direction}`;
    const known = jobs.get(key) ?? { name, done: [] };
    known.done.push(one);
    jobs.set(key, known);
  }
  return [...jobs.values()].flatMap(({ name, done }) => {
    const rows = rigs.flatMap((rig, i): JobRow[] => {
      if (question.rigs !== null && !question.rigs.includes(rig.id)) return [];
      if (question.drive !== null && rig.parts.at(-1)?.id !== question.drive) return [];
      const own = done.filter((one) => isSetUpOf(one.rig, rig));
      return own.length > 0 ? [rowOf(rig, letterOf(i), own)] : [];
    });
    if (rows.length === 0) return [];
    const usual = summarise(rows.map(({ bytes }) => bytes)).median;
    const marked = rows.map((row) => ({
      ...row,
      otherAmount: Math.abs(row.bytes / usual - 1) > SAME_AMOUNT,
    }));
    return [{ name, direction: done[0]!.drill.direction, rows: marked }];
  });
}

function rowOf(rig: Rig, letter: string, done: readonly BriefMeasurement[]): JobRow {
  const runs = done.flatMap((one) => one.runs.filter(counts));
  const results = runs.flatMap(({ result }) => result ?? []);
  const middle = (values: number[]) => summarise(values).median;
  return {
    letter,
    rigId: rig.id,
    name: rig.name,
    n: runs.length,
    seconds: middle(results.map(({ ms }) => ms / 1e3)),
    mbps: middle(results.map(({ bytes, ms }) => (ms > 0 ? bytes / 1e3 / ms : 0))),
    bytes: middle(results.map(({ bytes }) => bytes)),
    origins: [...new Set(done.map(({ origin }) => origin))],
    runIds: runs.map(({ id }) => id),
    otherAmount: false,
  };
}
