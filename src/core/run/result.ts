import * as z from "zod";
import {
  CELSIUS,
  MOST_BYTES,
  MOST_MBPS,
  MOST_MS,
  MOST_REQUESTS,
  MOST_STEPS,
  MOST_US,
} from "../units/bounds";
import { Ballast } from "../ballast/ballast";
import { FarLoad, FarReading } from "./far-host";
import { StepLabel } from "./program";
import { ReplayResult } from "./replay-result";

const us = z.number().nonnegative().max(MOST_US);
const mbps = z.number().nonnegative().max(MOST_MBPS);
const bytes = z.number().nonnegative().max(MOST_BYTES);
const duration = z.number().nonnegative().max(MOST_MS);
/** A moment of a run; negative before its first counted one. */
const moment = z.number().min(-MOST_MS).max(MOST_MS);
const requests = z.number().nonnegative().max(MOST_REQUESTS);
const words = z.string().max(10_000);

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
  p50: us,
  p95: us,
  p99: us,
  p999: us,
  p9999: us.nullable().default(null),
  max: us,
});
export type Latency = z.infer<typeof Latency>;

/** Request times of one direction, with the histogram that they follow from (core/stats/histogram.ts). */
export const DirectionLatency = Latency.extend({ histogram: z.string() });
export type DirectionLatency = z.infer<typeof DirectionLatency>;

/** What a page was found to be that does not hold what was written to it. */
export const FaultKind = z.enum(["lost", "stale", "misdirected", "damaged"]);
export type FaultKind = z.infer<typeof FaultKind>;
export const Fault = z.object({ kind: FaultKind, offset: bytes, bytes });
export type Fault = z.infer<typeof Fault>;

/** One target's part in a step with several. */
export const TargetShare = z.object({
  target: z.number().int().nonnegative().max(MOST_STEPS),
  /** When its flow began, milliseconds after the first one's. */
  startedMs: moment,
  meanMBps: mbps,
  bytes,
});
export type TargetShare = z.infer<typeof TargetShare>;

/** What a copy was made of, and where it waited. */
export const CopyResult = z.object({
  files: z.number().int().nonnegative(),
  /** Time that the other side stood still for this one, milliseconds. */
  waitedForFromMs: duration,
  waitedForToMs: duration,
  /** What a file costs whatever its size, and how fast bytes went beside that; null: cannot be told. */
  perFileMs: duration.nullable(),
  perByteMBps: mbps.nullable(),
  /** Share of the source that the kernel answered from memory; null where it keeps no count. */
  fromMemory: z.number().min(0).max(1).nullable(),
  /** Files whose copy was held against the source, and those that differed. */
  verified: z.number().int().nonnegative(),
  differing: z.array(z.string().max(4096)).max(1000),
  /** Where the copy was left, where the tester keeps it. */
  kept: z.string().max(4096).nullable(),
});
export type CopyResult = z.infer<typeof CopyResult>;

/** What one step of a drill gave. */
export const StepResult = z.object({
  label: StepLabel,
  kind: z.enum(["flow", "rest", "check", "copy", "replay"]),
  /** Payload over the counted time, its ends faded (core/trace/rates.ts). */
  meanMBps: mbps,
  bytes,
  written: bytes,
  /** Counted time in milliseconds. */
  ms: duration,
  requests,
  read: DirectionLatency.nullable(),
  write: DirectionLatency.nullable(),
  /** Of both directions together. */
  latencyUs: Latency,
  /** What the kernel counted for the device in the same time; null where it keeps no count. */
  deviceBytes: bytes.nullable(),
  /** How long the flush at the end took; null where there was none. */
  flushMs: duration.nullable(),
  /** Processor time the measuring process used per request, microseconds. */
  processorUsPerRequest: us,
  /** The busiest core's share of time not idle, 0 to 1; null where the system does not say. */
  busiestCore: z.number().min(0).max(1).nullable(),
  /** The best five seconds, and the mean after the last level change (core/reading/levels.ts). */
  burstMBps: mbps,
  sustainedMBps: mbps,
  /** Bytes moved before the first lasting drop; null where there was none. */
  edgeBytes: bytes.nullable(),
  /** Whether its flow stood still or dipped for a moment; left out where nobody looked. */
  interrupted: z.boolean().optional(),
  /** Of a step that went on until it was steady: after how many rounds, and whether it got there. */
  steady: z.object({ rounds: z.number().int().nonnegative(), reached: z.boolean() }).nullable(),
  targets: z.array(TargetShare).max(MOST_STEPS),
  copy: CopyResult.nullable(),
  /** Left out where nothing recorded was done again. */
  replay: ReplayResult.optional(),
  faults: z.array(Fault).max(100_000),
  /** Faults beyond those listed. */
  moreFaults: z.number().int().nonnegative(),
});
export type StepResult = z.infer<typeof StepResult>;

/** A curve through a ladder's steps, in the words of docs/model.md, 3. */
export const Fit = z.discriminatedUnion("by", [
  z.object({
    by: z.literal("block"),
    overheadUs: us,
    asymptoteMBps: mbps,
    halfRateBytes: bytes,
    /** Largest deviation of a step from the fit, as a share. */
    worst: z.number().max(1e9),
  }),
  z.object({
    by: z.literal("depth"),
    singleIops: requests,
    plateauIops: requests,
    kneeDepth: z.number().max(1e9),
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
  /** How warm it became at most; left out where nothing told. */
  hottestCelsius: z.number().optional(),
  /** What the machine did that served a share over the network; left out where nobody looked at it. */
  farHost: FarLoad.optional(),
});
export type RunResult = z.infer<typeof RunResult>;

/** Something that happened during a run. */
export const RunEvent = z.object({
  /** Milliseconds after the run's first counted moment; negative before it. */
  ms: moment,
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
  text: words,
  /** The file or counter it was read from; null where the engine saw it itself. */
  from: words.nullable(),
});
export type RunEvent = z.infer<typeof RunEvent>;

/** What the system showed at a moment of a run, at most once a second. */
export const Reading = z.object({
  ms: moment,
  /** Share of the machine's processor time that the measuring process used, and that anything used. */
  engine: z.number().min(0).max(1e6).nullable(),
  machine: z.number().min(0).max(1e6).nullable(),
  /** Degrees Celsius by what was measured. */
  celsius: z.record(z.string().max(200), z.number().min(CELSIUS.least).max(CELSIUS.most)),
  /** What the machine did that serves a share over the network; left out where nobody looked at it. */
  far: FarReading.optional(),
});
export type Reading = z.infer<typeof Reading>;

/** An error counter of the drive or of the way to it, before and after a run. */
export const ErrorCount = z.object({
  what: words,
  from: words,
  before: z.number().nonnegative().max(MOST_BYTES),
  after: z.number().nonnegative().max(MOST_BYTES),
});
export type ErrorCount = z.infer<typeof ErrorCount>;

/** The circumstances of a run, as read from the system. A null was not to be had. */
export const Conditions = z.object({
  startedAt: z.string(),
  nerrit: z.string(),
  host: z.string(),
  kernel: z.string(),
  processor: z.string(),
  cores: z.number().int().nonnegative().max(1e6),
  loadAtStart: z.number().nonnegative().max(1e6),
  /** The machine's memory; the drive's maker and model, and how it is attached; left out where nobody asked. */
  memoryBytes: bytes.nullable().optional(),
  drive: z.string().max(300).nullable().optional(),
  link: z.string().max(300).nullable().optional(),
  /** The busiest core's share of time not idle just before the run, 0 to 1; left out where nobody looked. */
  busiestCoreBefore: z.number().min(0).max(1).nullable().optional(),
  target: z.string(),
  targetKind: z.enum(["directory", "device"]),
  fileSystem: z.string().nullable(),
  mountOptions: z.string().nullable(),
  device: z.string().nullable(),
  deviceBytes: bytes.nullable(),
  freeBytes: bytes.nullable(),
  /** Of the whole file system; left out where nobody asked. */
  totalBytes: bytes.nullable().optional(),
  /** Files of Nerrit's own that kept the drive at a fill level; left out where there were none. */
  ballast: Ballast.optional(),
  scheduler: z.string().nullable(),
  rotational: z.boolean().nullable(),
  writeCache: z.string().nullable(),
  requestLimitBytes: bytes.nullable(),
  /** Past the page cache (direct) or through it (buffered); null where other programs did as they liked. */
  io: z.enum(["direct", "buffered"]).nullable(),
  /** How requests are issued: by threads, by the kernel's ring, or by the runtime's own file calls. */
  lane: z.enum(["native", "ring", "portable"]).nullable(),
  /** What is different about this target, in sentences. */
  notes: z.array(z.string()).default([]),
  /** Of a run on another host: how far its clock was ahead of this machine's, and how exactly that is known. */
  clock: z.object({ aheadMs: z.number(), uncertainMs: z.number().nonnegative() }).optional(),
  /** What quietly costs speed, as the system had it: power policies, queues, caches. */
  quiet: z.array(z.object({ what: z.string(), value: z.string(), from: z.string() })).default([]),
});
export type Conditions = z.infer<typeof Conditions>;
