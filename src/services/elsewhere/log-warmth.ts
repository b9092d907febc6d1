import * as z from "zod";
import { readLog } from "@/core/elsewhere/log";
import { laidOver, onRunsClock, warmthOfLog, type LogWarmth } from "@/core/elsewhere/log-warmth";
import type { LogColumns, WarmthPreview } from "@/core/elsewhere/preview";
import { logOf } from "@/core/run/sensor";
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
  /** By how many minutes the clock of where the log was written is ahead of UTC. */
  zoneMinutes: z.number().min(-900).max(900).default(0),
  /** By how many seconds the log's clock is ahead of the run's. */
  aheadSeconds: z.number().min(-MOST_AHEAD).max(MOST_AHEAD).default(0),
  leaveOut: z.boolean().default(false),
});

/** A log's temperatures as far as they can be read without the run that they are of. */
export interface LoggedWarmth extends Omit<z.infer<typeof WarmthInput>, "text" | "columns"> {
  log: Omit<LogColumns, "problems" | "problemCount">;
  warmth: LogWarmth;
}

/** Reads a log's temperatures. @throws Problem 422 where it has none */
export function warmthIn(input: unknown): LoggedWarmth {
  const { text, columns, ...asked } = checked(WarmthInput, input);
  const log = orProblem(() => readLog(text));
  const used = columns ?? log.columns;
  return {
    ...asked,
    log: {
      columns: used,
      shape: log.shape,
      head: log.lines.slice(0, 5).map(({ cells }) => cells),
      lines: log.lines.length,
    },
    warmth: orProblem(() => warmthOfLog(log, used)),
  };
}

/** More readings than this a picture does not show. */
const SHOWN = 1200;

/** Shows how a log's temperatures would lie over a run. @throws Problem 404 */
export function previewWarmth(store: Store, runId: string, logged: LoggedWarmth): WarmthPreview {
  const { warmth, log } = logged;
  const { startedAt, endMs } = clockOf(store, runId);
  const moments = onRunsClock(warmth, startedAt, logged);
  const readings = laidOver(moments, endMs, logged.name);
  const [first] = moments;
  const every = Math.ceil(readings.length / SHOWN) || 1;
  return {
    ...log,
    clock: warmth.clock,
    within: readings.length,
    all: moments.length,
    span: first ? { from: first.ms / 1e3, to: moments.at(-1)!.ms / 1e3 } : null,
    problems: warmth.problems.slice(0, 20),
    problemCount: warmth.problems.length,
    readings: readings.filter((_, i) => i % every === 0),
  };
}

/**
 * Lays a log's temperatures over a run, in place of those of a log of the same name.
 *
 * @returns how many readings
 * @throws Problem 404, and 422 where none of them is of the run's time
 */
export function layWarmthOver(store: Store, runId: string, logged: LoggedWarmth): number {
  const { problems } = logged.warmth;
  const [first] = problems;
  if (first && !logged.leaveOut)
    throw new Problem(
      422,
      `Line ${first.line}, column ${first.column}: ${first.problem}. Nothing was changed.`,
    );
  const { startedAt, endMs } = clockOf(store, runId);
  const readings = laidOver(onRunsClock(logged.warmth, startedAt, logged), endMs, logged.name);
  if (readings.length === 0)
    throw new Problem(422, "No line of the log is of the time of this run. Nothing was changed.");
  exchangeWarmth(store, runId, (what) => logOf(what) === logged.name, readings);
  return readings.length;
}

/** Takes the temperatures of a log off a run. @throws Problem 404 */
export function takeWarmthOff(store: Store, runId: string, name: string): void {
  clockOf(store, runId);
  exchangeWarmth(store, runId, (what) => logOf(what) === name, []);
}

/** When a run began, and how long its samples go on. @throws Problem 404 */
function clockOf(store: Store, runId: string): { startedAt: string; endMs: number } {
  const found = findRun(store, runId);
  if (!found) throw new Problem(404, "There is no such run.");
  return {
    startedAt: found.run.startedAt,
    endMs: samplesOfRun(store, runId).at(-1)?.ms ?? 0,
  };
}
