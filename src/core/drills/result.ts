import * as z from "zod";
import { StepLabel } from "./program";

/** What moved between two moments, in milliseconds after the run's first counted one. */
export interface Sample {
  from: number;
  ms: number;
  /** Payload of both directions. */
  bytes: number;
  /** Of that, written. */
  written: number;
  /** Requests that ended, of both directions. */
  requests: number;
  /** Which step of the drill. */
  step: number;
  /** Which target, in the order of the job. */
  target: number;
}

/** Time of single requests in microseconds. p9999 is null where a run was made before it was kept. */
export const Latency = z.object({
  p50: z.number(),
  p95: z.number(),
  p99: z.number(),
  p999: z.number(),
  p9999: z.number().nullable().default(null),
  max: z.number(),
});
export type Latency = z.infer<typeof Latency>;

/** Request times of one direction, with the histogram that they follow from (core/stats/histogram.ts). */
export const DirectionLatency = Latency.extend({ histogram: z.string() });
export type DirectionLatency = z.infer<typeof DirectionLatency>;

/** What a page was found to be that does not hold what was written to it. */
export const FaultKind = z.enum(["lost", "stale", "misdirected", "damaged"]);
export type FaultKind = z.infer<typeof FaultKind>;
export const Fault = z.object({ kind: FaultKind, offset: z.number(), bytes: z.number() });
export type Fault = z.infer<typeof Fault>;

/** One target's part in a step with several. */
export const TargetShare = z.object({
  target: z.number().int(),
  /** When its flow began, milliseconds after the first one's. */
  startedMs: z.number(),
  meanMBps: z.number(),
  bytes: z.number(),
});
export type TargetShare = z.infer<typeof TargetShare>;

/** What a copy was made of, and where it waited. */
export const CopyResult = z.object({
  files: z.number().int(),
  /** Time that the other side stood still for this one, milliseconds. */
  waitedForFromMs: z.number(),
  waitedForToMs: z.number(),
  /** What a file costs whatever its size, and how fast bytes went beside that; null: cannot be told. */
  perFileMs: z.number().nullable(),
  perByteMBps: z.number().nullable(),
  /** Share of the source that the kernel answered from memory; null where it keeps no count. */
  fromMemory: z.number().nullable(),
  /** Files whose copy was held against the source, and those that differed. */
  verified: z.number().int(),
  differing: z.array(z.string()),
  /** Where the copy was left, where the tester keeps it. */
  kept: z.string().nullable(),
});
export type CopyResult = z.infer<typeof CopyResult>;

/** What one step of a drill gave. */
export const StepResult = z.object({
  label: StepLabel,
  kind: z.enum(["flow", "rest", "check", "copy"]),
  /** Payload over the counted time, its ends faded (core/trace/rates.ts). */
  meanMBps: z.number().nonnegative(),
  bytes: z.number().nonnegative(),
  written: z.number().nonnegative(),
  /** Counted time in milliseconds. */
  ms: z.number().nonnegative(),
  requests: z.number().nonnegative(),
  read: DirectionLatency.nullable(),
  write: DirectionLatency.nullable(),
  /** Of both directions together. */
  latencyUs: Latency,
  /** What the kernel counted for the device in the same time; null where it keeps no count. */
  deviceBytes: z.number().nonnegative().nullable(),
  /** How long the flush at the end took; null where there was none. */
  flushMs: z.number().nullable(),
  /** Processor time the measuring process used per request, microseconds. */
  processorUsPerRequest: z.number().nonnegative(),
  /** The busiest core's share of time not idle, 0 to 1; null where the system does not say. */
  busiestCore: z.number().min(0).max(1).nullable(),
  /** The best five seconds, and the mean after the last level change (core/reading/levels.ts). */
  burstMBps: z.number(),
  sustainedMBps: z.number(),
  /** Bytes moved before the first lasting drop; null where there was none. */
  edgeBytes: z.number().nullable(),
  /** Whether its flow stood still or dipped for a moment; left out where nobody looked. */
  interrupted: z.boolean().optional(),
  /** Of a step that went on until it was steady: after how many rounds, and whether it got there. */
  steady: z.object({ rounds: z.number().int(), reached: z.boolean() }).nullable(),
  targets: z.array(TargetShare),
  copy: CopyResult.nullable(),
  faults: z.array(Fault),
  /** Faults beyond those listed. */
  moreFaults: z.number().int(),
});
export type StepResult = z.infer<typeof StepResult>;

/** A curve through a ladder's steps, in the words of model.md 3. */
export const Fit = z.discriminatedUnion("by", [
  z.object({
    by: z.literal("block"),
    overheadUs: z.number(),
    asymptoteMBps: z.number(),
    halfRateBytes: z.number(),
    /** Largest deviation of a step from the fit, as a share. */
    worst: z.number(),
  }),
  z.object({
    by: z.literal("depth"),
    singleIops: z.number(),
    plateauIops: z.number(),
    kneeDepth: z.number(),
    rises: z.boolean(),
  }),
]);
export type Fit = z.infer<typeof Fit>;

/** What one execution of a drill gave. */
export const RunResult = z.object({
  /** The headline, MB/s. */
  meanMBps: z.number().nonnegative(),
  iops: z.number().nonnegative(),
  bytes: z.number().nonnegative(),
  ms: z.number().nonnegative(),
  requests: z.number().nonnegative(),
  latencyUs: Latency,
  deviceBytes: z.number().nonnegative().nullable(),
  processorUsPerRequest: z.number().nonnegative(),
  busiestCore: z.number().min(0).max(1).nullable(),
  steps: z.array(StepResult),
  fit: Fit.nullable(),
  /** How warm the drive was as the run began; left out where nothing told. */
  startCelsius: z.number().optional(),
});
export type RunResult = z.infer<typeof RunResult>;

/** Something that happened during a run. */
export const RunEvent = z.object({
  /** Milliseconds after the run's first counted moment; negative before it. */
  ms: z.number(),
  kind: z.enum([
    "gone",
    "reset",
    "error",
    "stalled",
    "throttled",
    "link",
    "kernel",
    "space",
    "note",
    "mark",
  ]),
  text: z.string(),
  /** The file or counter it was read from; null where the engine saw it itself. */
  from: z.string().nullable(),
});
export type RunEvent = z.infer<typeof RunEvent>;

/** What the system showed at a moment of a run, at most once a second. */
export const Reading = z.object({
  ms: z.number(),
  /** Share of the machine's processor time that the measuring process used, and that anything used. */
  engine: z.number().nullable(),
  machine: z.number().nullable(),
  /** Degrees Celsius by what was measured. */
  celsius: z.record(z.string(), z.number()),
});
export type Reading = z.infer<typeof Reading>;

/** An error counter of the drive or of the way to it, before and after a run. */
export const ErrorCount = z.object({
  what: z.string(),
  from: z.string(),
  before: z.number(),
  after: z.number(),
});
export type ErrorCount = z.infer<typeof ErrorCount>;

/** The circumstances of a run, as read from the system. A null was not to be had. */
export const Conditions = z.object({
  startedAt: z.string(),
  nerrit: z.string(),
  host: z.string(),
  kernel: z.string(),
  processor: z.string(),
  cores: z.number().int(),
  loadAtStart: z.number(),
  /** The busiest core's share of time not idle just before the run, 0 to 1; left out where nobody looked. */
  busiestCoreBefore: z.number().min(0).max(1).nullable().optional(),
  target: z.string(),
  targetKind: z.enum(["directory", "device"]),
  fileSystem: z.string().nullable(),
  mountOptions: z.string().nullable(),
  device: z.string().nullable(),
  deviceBytes: z.number().nullable(),
  freeBytes: z.number().nullable(),
  scheduler: z.string().nullable(),
  rotational: z.boolean().nullable(),
  writeCache: z.string().nullable(),
  requestLimitBytes: z.number().nullable(),
  /** Past the page cache (direct) or through it (buffered); null where other programs did as they liked. */
  io: z.enum(["direct", "buffered"]).nullable(),
  /** How requests are issued: by threads, by the kernel's ring, or by the runtime's own file calls. */
  lane: z.enum(["native", "ring", "portable"]).nullable(),
  /** What is different about this target, in sentences. */
  notes: z.array(z.string()).default([]),
  /** What quietly costs speed, as the system had it: power policies, queues, caches. */
  quiet: z.array(z.object({ what: z.string(), value: z.string(), from: z.string() })).default([]),
});
export type Conditions = z.infer<typeof Conditions>;
