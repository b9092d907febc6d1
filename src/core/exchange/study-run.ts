import * as z from "zod";
import { PhotoRefs, type PhotoRef } from "../chain/photo-ref";
import { PartDraft } from "../chain/part";
import { RigDraft } from "../chain/rig";
import { recordedFrom, DrillDirectionSchema, type Drill } from "../drills/drill";
import { Conditions, type StepResult } from "../run/result";
import { shapeOf } from "../drills/shape";
import { blankStep } from "../run/step";
import { Origin } from "../study/measurement";
import { MOST_MBPS } from "../units/bounds";
import { Stated, UNSAID } from "../run/stated";
import { RecordedRun } from "./runs-file";

/**
 * A run in a study's file: in full, as it was measured, or in its smallest form, a rate that somebody
 * read off and wrote down.
 */

const rate = z.number().positive("must be above 0").max(MOST_MBPS, "is beyond any storage link");
const time = z.iso.datetime({ offset: true });

/** A figure for each repeat; a single one may stand by itself. */
const oneOrMore = (figure: z.ZodNumber) =>
  z.union([z.array(figure).min(1).max(50), figure.transform((only) => [only])]);

/** A drill as written: its name and its way; what is left out is as usual. */
const DrillEntry = z
  .looseObject({ name: z.string(), direction: DrillDirectionSchema })
  .transform((drill, context): Drill => {
    try {
      return recordedFrom(drill);
    } catch (error) {
      for (const { path, message } of error instanceof z.ZodError ? error.issues : []) {
        context.addIssue({ code: "custom", path: [...path], message });
      }
      if (!(error instanceof z.ZodError)) {
        context.addIssue({ code: "custom", message: String(error) });
      }
      return z.NEVER;
    }
  });

/** A part as a file of a study names it. */
const PartEntry = PartDraft.safeExtend({ id: z.string().min(1).max(80) });

/** A rig as it stood when a run was made, where it stands otherwise now. */
const RigThen = RigDraft.omit({ partIds: true, besideIds: true, otherIds: true }).extend({
  id: z.string().max(80),
  parts: z.array(PartEntry).max(12),
  beside: z.array(PartEntry).max(23).default([]),
  other: z.array(PartEntry).max(12).default([]),
});

/** The forms that say what was measured, of which a run has one. */
const FORMS = ["ratesMBps", "iops", "bytes", "runs"] as const;

export const StudyRun = z
  .object({
    rigId: z.string(),
    drill: DrillEntry,
    /** Headline rates, one for each repeat; of a Long fill, what it sustained. */
    ratesMBps: oneOrMore(rate).optional(),
    /** Requests a second, one for each repeat. */
    iops: oneOrMore(z.number().positive("must be above 0").max(1e9)).optional(),
    /** So many bytes within so many seconds, by a stopwatch. */
    bytes: z.number().positive("must be above 0").max(1e18).optional(),
    seconds: z.number().positive("must be above 0").max(1e8).optional(),
    /** Every repeat with its steps and samples. */
    runs: z
      .array(
        RecordedRun.safeExtend({
          trace: z.string().max(120).optional(),
          photos: PhotoRefs.removeDefault().optional(),
        }),
      )
      .min(1)
      .max(50)
      .optional(),
    simulated: z.boolean().optional(),
    origin: Origin.optional(),
    conditions: Conditions.partial().nullable().optional(),
    stated: Stated.default(UNSAID),
    id: z.string().min(1).max(80).optional(),
    targets: z.array(z.string().min(1).max(4096)).min(1).max(33).optional(),
    status: z.enum(["done", "stopped", "failed", "interrupted"]).default("done"),
    reason: z.string().max(10_000).nullable().default(null),
    createdAt: time.optional(),
    warmUp: z.boolean().default(false),
    rigThen: RigThen.optional(),
  })
  .superRefine((run, context) => {
    const given = FORMS.filter((form) => run[form] !== undefined);
    const complain = (message: string, path: string[] = []) =>
      context.addIssue({ code: "custom", path, message });
    if (given.length !== 1) {
      complain("says what was measured in one way: ratesMBps, iops, bytes and seconds, or runs");
    }
    if ((run.bytes === undefined) !== (run.seconds === undefined)) {
      complain("has bytes without seconds, or seconds without bytes");
    }
    if (run.iops && !shapeOf(run.drill)) {
      complain("is of a drill that keeps no requests of one size in flight", ["iops"]);
    }
    const derived = run.bytes ? [run.bytes / 1e6 / (run.seconds ?? 1)] : ratesOfIops(run);
    if (derived.some((mbps) => mbps > MOST_MBPS)) complain("is beyond any storage link");
    if (
      run.simulated !== undefined &&
      run.origin &&
      run.simulated !== (run.origin === "simulated")
    ) {
      complain("says both that it was simulated and that it was not", ["simulated"]);
    }
  });
export type StudyRun = z.infer<typeof StudyRun>;
/** A repeat as a study's file holds it: with the pictures that were taken of it. */
export type FiledRun = RecordedRun & { photos?: PhotoRef[] };

/** Where a run of a file comes from, where it does not say so itself. */
export const originOf = ({ origin, simulated, runs }: StudyRun): Origin =>
  origin ?? (simulated ? "simulated" : runs ? "measured" : "typed");

/** The repeats of a run in whichever form it was written. */
export function repeatsOf(run: StudyRun): FiledRun[] {
  if (run.runs) return run.runs;
  const startedAt = run.createdAt ?? UNKNOWN_TIME;
  const figures = run.ratesMBps ?? (run.iops && ratesOfIops(run));
  const rates = figures ?? [run.bytes! / 1e6 / run.seconds!];
  return rates.map((mbps) => ({
    status: "done",
    startedAt,
    samples: [],
    events: [],
    readings: [],
    errors: [],
    steps: [typedStep(run.drill, mbps, run.bytes ?? 0, (run.seconds ?? 0) * 1e3)],
  }));
}

/** When a run was made that does not say when. */
export const UNKNOWN_TIME = "1970-01-01T00:00:00.000Z";

/** What so many requests a second come to, MB/s; none where a drill has no requests of one size. */
const ratesOfIops = ({ iops = [], drill }: Pick<StudyRun, "iops" | "drill">): number[] =>
  iops.map((one) => (one * (shapeOf(drill)?.block ?? 0)) / 1e6);

/** The step of a run of which no more is known than its rate. */
export function typedStep(drill: Drill, mbps: number, bytes: number, ms: number): StepResult {
  const written = drill.direction === "write" ? bytes : 0;
  return {
    ...blankStep(shapeOf(drill) ? "flow" : "copy", {}),
    meanMBps: mbps,
    bytes,
    written,
    ms,
    burstMBps: mbps,
    sustainedMBps: mbps,
  };
}

/** Conditions of which some are said; the others are not known. */
export const completeConditions = (
  said: Partial<Conditions> | null | undefined,
): Conditions | null => (said ? { ...UNKNOWN_CONDITIONS, ...said } : null);

const UNKNOWN_CONDITIONS: Conditions = {
  startedAt: UNKNOWN_TIME,
  nerrit: "",
  host: "",
  kernel: "",
  processor: "",
  cores: 0,
  loadAtStart: 0,
  target: "",
  targetKind: "directory",
  fileSystem: null,
  mountOptions: null,
  device: null,
  deviceBytes: null,
  freeBytes: null,
  scheduler: null,
  rotational: null,
  writeCache: null,
  requestLimitBytes: null,
  io: null,
  lane: null,
  notes: [],
  quiet: [],
};
