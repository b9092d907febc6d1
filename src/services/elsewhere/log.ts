import { randomUUID } from "node:crypto";
import * as z from "zod";
import { defineFrom, DrillDirectionSchema } from "@/core/drills/drill";
import { flowFigures } from "@/core/drills/flow-figures";
import type { Reading, Sample } from "@/core/run/result";
import { shapeOf } from "@/core/drills/shape";
import { blankStep } from "@/core/run/step";
import { COLUMN_ROLES, readLog, type LogColumn } from "@/core/elsewhere/log";
import { traceOf, type LogTrace } from "@/core/elsewhere/log-trace";
import type { LogPreview } from "@/core/elsewhere/preview";
import { rowOf } from "@/core/exchange/runs-file";
import { Stated, UNSAID } from "@/core/run/stated";
import { thinned } from "@/core/trace/thin";
import { counted } from "@/core/units/counted";
import { minutesAhead } from "@/core/units/day";
import { blockSchema, depthSchema } from "@/core/units/request";
import { line } from "@/core/units/text";
import type { Store } from "@/store/database";
import { checked, checkedBy, Problem } from "../problem";
import { insertRecorded, packed, type Kept } from "./runs-file";
import { statedRequests } from "./typed";
import { rigOfStudy, type Taken } from "./taken";

const Column = z.object({
  column: z.number().int().positive(),
  head: z.string(),
  role: z.enum(Object.keys(COLUMN_ROLES) as [keyof typeof COLUMN_ROLES]),
  scale: z.number().positive().min(1e-12).max(1e15).nullable(),
});
export const LogInput = z.object({
  text: z.string(),
  columns: z.array(Column).max(200).optional(),
});

/** Shows what a log would become: what its columns are taken for, and the trace. */
export function previewLog(input: unknown): LogPreview {
  const { text, columns } = checked(LogInput, input);
  const { log, used, trace } = logOf(text, columns);
  const { samples, problems } = trace;
  return {
    columns: used,
    shape: log.shape,
    head: log.lines.slice(0, 5).map(({ cells }) => cells),
    lines: log.lines.length,
    ...figuresOf(samples),
    wraps: trace.wraps,
    spread: trace.spread,
    untimed: trace.untimed,
    problems: problems.slice(0, 20),
    problemCount: problems.length,
    samples: thinned(samples, 1200),
  };
}

function logOf(text: string, columns: LogColumn[] | undefined) {
  const log = orProblem(() => readLog(text));
  const used = columns ?? log.columns;
  return { log, used, trace: traceOf(log, used) };
}

/** What a log cannot be read for, as a Problem. */
export function orProblem<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, error.message);
    throw error;
  }
}

const figuresOf = (samples: readonly Sample[]) => {
  const bytes = samples.reduce((sum, sample) => sum + sample.bytes, 0);
  const written = samples.reduce((sum, sample) => sum + sample.written, 0);
  const [from, to] = [samples[0]?.from ?? 0, samples.at(-1)?.ms ?? 0];
  return { bytes, written, ms: to - from };
};

const TakeLog = LogInput.extend({
  rigId: z.string(),
  drill: z.string(),
  direction: DrillDirectionSchema,
  /** Bytes of one request, and requests in flight; null: as the drill usually has them. */
  block: blockSchema.nullable().default(null),
  depth: depthSchema.nullable().default(null),
  /** What the log is called. */
  name: line(200).default("log"),
  /** Lines that make no sense are left out, rather than that nothing is taken. */
  leaveOut: z.boolean().default(false),
  stated: Stated.default(UNSAID),
});

/** Takes a log in as a run. @throws Problem that names the first line that makes no sense */
export function takeLog(store: Store, studyId: string, input: unknown): Taken {
  const { rigId, kept } = runOfLog(input);
  insertRecorded(store, studyId, rigOfStudy(store, studyId, rigId), kept);
  return { measurementIds: [kept.id], rigIds: [], partIds: [] };
}

/** The run that a log becomes, with its samples packed. @throws Problem as above */
export function runOfLog(input: unknown): { rigId: string; kept: Kept } {
  const asked = checked(TakeLog, input);
  const { trace } = logOf(asked.text, asked.columns);
  const { samples, readings, problems } = trace;
  const [first] = problems;
  if (first && (!asked.leaveOut || samples.length === 0)) {
    const more =
      problems.length > 1
        ? ` (and ${counted(problems.length - 1, "more line", "more lines")})`
        : "";
    throw new Problem(
      422,
      `Line ${first.line}, column ${first.column}: ${first.problem}${more}. Nothing was taken.`,
    );
  }
  if (samples.length === 0) throw new Problem(422, "There is nothing that moved in it.");
  const { drill: name, direction, stated } = asked;
  const set = { ...statedRequests(asked.block, asked.depth), repeats: 1 };
  const drill = checkedBy(() => defineFrom({ name, direction, ...set }, null));
  const { bytes, written, ms } = figuresOf(samples);
  const moments = samples.map((sample) => ({
    ms: sample.ms - samples[0]!.from,
    bytes: sample.bytes,
  }));
  const createdAt = new Date().toISOString();
  const startedAt = startOf(trace.begins) ?? createdAt;
  const id = randomUUID();
  const kept: Kept = {
    id,
    origin: "imported",
    drill,
    status: "done",
    reason: null,
    createdAt,
    warmUp: false,
    stated,
    conditions: null,
    targets: [asked.name],
    runs: [
      packed({
        status: "done",
        startedAt,
        events: [],
        errors: [],
        samples: samples.map(rowOf),
        readings: onceASecond(readings).map(({ ms: at, celsius }): Reading => ({
          ms: at,
          engine: null,
          machine: null,
          celsius: { log: celsius },
        })),
        steps: [
          {
            ...blankStep(shapeOf(drill) ? "flow" : "copy", {}),
            ...flowFigures({ seconds: null, bytes: 0, countFlush: null }, moments, bytes, ms),
            bytes,
            written,
            ms,
          },
        ],
      }),
    ],
  };
  return { rigId: asked.rigId, kept };
}

/** When a log begins, ISO 8601: of a time of day today; null where it has no clock. */
function startOf(begins: LogTrace["begins"]): string | null {
  if (!begins || begins.clock === "own") return null;
  const now = new Date();
  const today = Date.UTC(now.getFullYear(), now.getMonth(), now.getDate()) / 1e3;
  const told = new Date((begins.seconds + (begins.clock === "day" ? today : 0)) * 1e3);
  if (Number.isNaN(told.getTime())) return null;
  const ahead = begins.clock === "world" ? 0 : minutesAhead(told.toISOString());
  const at = new Date(told.getTime() - ahead * 60_000);
  // Years of four digits are all that a file of runs can say.
  return at.getTime() > 0 && at.getUTCFullYear() < 10_000 ? at.toISOString() : null;
}

/**
 * Temperatures change slowly: of those that follow close on each other the first is kept, and of a long
 * stretch of the same the ends.
 */
function onceASecond<T extends { ms: number; celsius: number }>(readings: readonly T[]): T[] {
  let last = -Infinity;
  const apart = readings.filter(({ ms }) => {
    if (ms - last < 999) return false;
    last = ms;
    return true;
  });
  return apart.filter(
    ({ celsius }, i) => celsius !== apart[i - 1]?.celsius || celsius !== apart[i + 1]?.celsius,
  );
}
