import * as z from "zod";
import { drillNamed } from "../drills/catalogue";
import { DrillDirectionSchema, settingsOf, type Drill } from "../drills/drill";
import { RunStatus } from "../drills/request";
import { Conditions, ErrorCount, Reading, RunEvent, StepResult, type Sample } from "../run/result";
import { settle } from "../drills/settle";
import { Corrections } from "../run/mark";
import { Origin, type Run } from "../study/measurement";
import { Stated, UNSAID } from "../run/stated";
import { MOST_MS, MOST_STEPS } from "../units/bounds";
import { line } from "../units/text";

/**
 * Runs as a file: what a machine without a screen has measured or watched, with every sample and all
 * conditions, so that a study elsewhere takes it in as if it had been done there (docs/formats.md).
 */

const count = z.number().int().nonnegative();
const place = count.max(MOST_STEPS);
const ms = z.number().nonnegative().max(MOST_MS, "is longer than any run");

/** A year of ten samples a second would be more; a file of that size could not be taken in anyway. */
const MOST_SAMPLES = 20_000_000;

/** A sample as a row, in the order of its fields; a trace has many. */
const SampleRow = z
  .tuple([ms, ms, count, count, count, place, place])
  .refine(([from, end, bytes, written]) => end >= from && written <= bytes, {
    message: "ends before it begins, or writes more than it moves",
  });

export const RecordedRun = z
  .object({
    status: RunStatus,
    startedAt: z.iso.datetime({ offset: true }),
    steps: z.array(StepResult).max(10_000),
    /** from, ms, bytes, written, requests, step, target */
    samples: z.array(SampleRow).max(MOST_SAMPLES, "more samples than any run has"),
    events: z.array(RunEvent).max(100_000).default([]),
    readings: z.array(Reading).max(MOST_SAMPLES).default([]),
    errors: z.array(ErrorCount).max(10_000).default([]),
    /** What the tester corrected of what was found in its trace. */
    corrections: Corrections.optional(),
    /** Why it counts for nothing, where the tester left it out. */
    leftOut: line(300).nullable().optional(),
  })
  // Its figure follows from its steps: without any it would be a run of 0 MB/s.
  .refine(({ status, steps }) => status !== "done" || steps.length > 0, {
    message: "is done and has no step",
  });
export type RecordedRun = z.infer<typeof RecordedRun>;

const DrillSchema = z
  .looseObject({
    name: z.string(),
    title: line(80).optional(),
    direction: DrillDirectionSchema,
    repeats: z.number().int().min(1).max(50),
  })
  .transform((drill, context): Drill => {
    try {
      settle(drillNamed(drill.name), settingsOf(drill), null);
      return drill;
    } catch (error) {
      const message =
        error instanceof z.ZodError
          ? (error.issues[0]?.message ?? "makes no sense")
          : String(error);
      context.addIssue({ code: "custom", message });
      return z.NEVER;
    }
  });

export const Recorded = z.object({
  /** Told apart by it: a file that is taken in twice is found out. */
  id: z.uuid(),
  /** What the rig was called there. */
  rig: line(80),
  origin: Origin,
  drill: DrillSchema,
  targets: z.array(z.string().min(1).max(4096)).min(1).max(33),
  status: z.enum(["done", "stopped", "failed", "interrupted"]),
  reason: z.string().max(10_000).nullable().default(null),
  createdAt: z.iso.datetime({ offset: true }),
  warmUp: z.boolean().default(false),
  stated: Stated.default(UNSAID),
  conditions: Conditions.nullable(),
  runs: z.array(RecordedRun).min(1, "has no run").max(50),
});
export type Recorded = z.infer<typeof Recorded>;

export const RunsFile = z.object({
  format: z.literal("nerrit-runs", { error: 'is not "nerrit-runs": it is no file of runs' }),
  version: z.literal(1, { error: "is a version that this Nerrit does not know" }),
  measurements: z.array(Recorded).min(1, "holds no measurement").max(2000),
});
export type RunsFile = z.infer<typeof RunsFile>;

/** A file of runs, as text. */
export const runsFile = (measurements: readonly Recorded[]): string =>
  `${JSON.stringify({ format: "nerrit-runs", version: 1, measurements })}\n`;

/** A sample as a row of a file. */
export const rowOf = (one: Sample): RecordedRun["samples"][number] => [
  one.from,
  one.ms,
  one.bytes,
  one.written,
  one.requests,
  one.step,
  one.target,
];

/** A row of a file as a sample. */
export const sampleOf = ([
  from,
  end,
  bytes,
  written,
  requests,
  step,
  target,
]: RecordedRun["samples"][number]): Sample => ({
  from,
  ms: end,
  bytes,
  written,
  requests,
  step,
  target,
});

/** A run as a file holds it, with what the tester did to it only where that is something. */
export const recordedRun = (
  run: Omit<Run, "id" | "repeat" | "result">,
  startedAt: string,
): RecordedRun => ({
  status: run.status,
  startedAt,
  steps: run.steps,
  samples: run.samples.map(rowOf),
  events: run.events,
  readings: run.readings,
  errors: run.errors,
  ...(run.corrections.length > 0 ? { corrections: run.corrections } : {}),
  ...(run.leftOut === null ? {} : { leftOut: run.leftOut }),
});
