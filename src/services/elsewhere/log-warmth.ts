import * as z from "zod";
import { readLog } from "@/core/elsewhere/log";
import { laidOver, onRunsClock, warmthOfLog } from "@/core/elsewhere/log-warmth";
import type { WarmthPreview } from "@/core/elsewhere/preview";
import type { Reading } from "@/core/run/result";
import { logOf } from "@/core/run/sensor";
import { minutesAhead } from "@/core/units/day";
import { line } from "@/core/units/text";
import type { Store } from "@/store/database";
import { exchangeWarmth } from "@/store/moments";
import { findRun, samplesOfRun } from "@/store/runs";
import { checked, Problem } from "../problem";
import { LogInput, orProblem } from "./log";

/** A log's clock may be wrong by two days at most, seconds: more is a wrong log. */
const MOST_AHEAD = 172_800;

const WarmthInput = LogInput.extend({
  /** What the log is called. */
  name: line(100)
    .min(1, "name the log")
    .default("log")
    .transform((name) => name.replaceAll(":", " ")),
  /** By how many seconds the log's clock is ahead of the run's. */
  aheadSeconds: z.number().min(-MOST_AHEAD).max(MOST_AHEAD).default(0),
  leaveOut: z.boolean().default(false),
});

/** When a run began, and how long its samples go on. */
export interface RunClock {
  /** Its first counted moment, ISO 8601. */
  startedAt: string;
  endMs: number;
}

/** A log's temperatures as they lie over a run. */
export interface LoggedWarmth extends Omit<WarmthPreview, "within" | "readings"> {
  name: string;
  leaveOut: boolean;
  /** All of them about the time of the run. */
  readings: Reading[];
}

/** Reads a log's temperatures, and lays them over a run. @throws Problem 422 where it has none */
export function warmthIn(input: unknown, { startedAt, endMs }: RunClock): LoggedWarmth {
  const { text, columns, name, leaveOut, aheadSeconds } = checked(WarmthInput, input);
  const log = orProblem(() => readLog(text));
  const used = columns ?? log.columns;
  const warmth = orProblem(() => warmthOfLog(log, used));
  // A log is written by the clock of where it is laid over the run.
  const set = { zoneMinutes: minutesAhead(startedAt), aheadSeconds };
  const moments = onRunsClock(warmth, startedAt, set);
  const [first] = moments;
  return {
    name,
    leaveOut,
    columns: used,
    shape: log.shape,
    head: log.lines.slice(0, 5).map(({ cells }) => cells),
    lines: log.lines.length,
    clock: warmth.clock,
    all: moments.length,
    span: first ? { from: first.ms / 1e3, to: moments.at(-1)!.ms / 1e3 } : null,
    problems: warmth.problems.slice(0, 20),
    problemCount: warmth.problems.length,
    readings: laidOver(moments, endMs, name),
  };
}

/** More readings than this a picture does not show. */
const SHOWN = 1200;

/** How a log's temperatures would lie over a run, thinned to what a picture shows. */
export function previewWarmth({ readings, ...logged }: LoggedWarmth): WarmthPreview {
  const every = Math.ceil(readings.length / SHOWN) || 1;
  return {
    ...logged,
    within: readings.length,
    readings: readings.filter((_, i) => i % every === 0),
  };
}

/**
 * Keeps a log's temperatures with a run, in place of those of a log of the same name.
 *
 * @returns how many readings
 * @throws Problem 422 where none of them is of the run's time, or a line makes no sense
 */
export function layWarmthOver(
  store: Store,
  runId: string,
  { name, leaveOut, problems: [first], readings }: LoggedWarmth,
): number {
  if (first && !leaveOut)
    throw new Problem(
      422,
      `Line ${first.line}, column ${first.column}: ${first.problem}. Nothing was changed.`,
    );
  if (readings.length === 0)
    throw new Problem(422, "No line of the log is of the time of this run. Nothing was changed.");
  exchangeWarmth(store, runId, (what) => logOf(what) === name, readings);
  return readings.length;
}

/** Takes the temperatures of a log off a run. @throws Problem 404 */
export function takeWarmthOff(store: Store, runId: string, name: string): void {
  clockOf(store, runId);
  exchangeWarmth(store, runId, (what) => logOf(what) === name, []);
}

/** The clock of a run. @throws Problem 404 */
export function clockOf(store: Store, runId: string): RunClock {
  const found = findRun(store, runId);
  if (!found) throw new Problem(404, "There is no such run.");
  return {
    startedAt: found.run.startedAt,
    endMs: samplesOfRun(store, runId).at(-1)?.ms ?? 0,
  };
}
