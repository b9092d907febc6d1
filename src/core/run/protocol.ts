import * as z from "zod";
import { Ballast, FillLevel, Room } from "../ballast/ballast";
import { Step, StepLabel } from "./program";
import { Conditions, ErrorCount, Reading, RunEvent, StepResult } from "./result";

/**
 * What passes between the measuring process and whoever started it, one JSON document a line: the
 * job goes in first, "stop" may follow, and "go" with the number of a repeat that waits for it; events come out.
 * The end of its input means that the parent is gone, and is taken as "stop".
 */
export const Job = z.object({
  /** Each repeat waits until it is told to begin: it is a part of a run on several machines. */
  gated: z.boolean().optional(),
  /** Directories for scratch files, or block devices (reading only), in the program's order. Absolute. */
  targets: z.array(z.string().min(1)).min(1),
  program: z.array(Step).min(1),
  repeats: z.number().int().positive(),
  io: z.enum(["direct", "buffered"]),
  /** Bytes to leave free; null for the larger of 2 % of the file system and 1 GiB. */
  reserve: z.number().int().nonnegative().nullable(),
  /** Refuse a target on the device that holds this path (Nerrit's own database); null: allow any. */
  keepOff: z.string().nullable(),
  nerrit: z.string(),
  /** Where the recordings lie that the program names, by SHA-256. */
  recordings: z.record(z.string(), z.string().min(1)).default({}),
});
export type Job = z.infer<typeof Job>;

/** In a job's place: the directories in which runs that ended with their process may have left something. */
export const Sweep = z.object({ sweep: z.array(z.string().min(1)).min(1) });
export type Sweep = z.infer<typeof Sweep>;

/** In a job's place: ballast shall fill the file system of a directory to a level. */
export const BallastJob = z.object({
  ballast: z.object({
    target: z.string().min(1),
    /** What shall be in use, 0 to 1; 0 removes all ballast. */
    level: FillLevel,
    reserve: Job.shape.reserve,
    keepOff: Job.shape.keepOff,
  }),
});
export type BallastJob = z.infer<typeof BallastJob>;

/** In a job's place: what reaches a place is to be recorded, in the run's own folder. */
export const RecordJob = z.object({
  record: z.object({
    place: z.string().min(1),
    /** The work, and its arguments; null records until it is stopped. */
    command: z.array(z.string()).min(1).nullable(),
    nerrit: z.string(),
  }),
});
export type RecordJob = z.infer<typeof RecordJob>;

const repeat = z.number().int();

export const EngineEvent = z.discriminatedUnion("event", [
  z.object({ event: z.literal("conditions"), conditions: Conditions }),
  /** The scratch file is being written before the drill. */
  z.object({ event: z.literal("preparing"), bytes: z.number(), total: z.number() }),
  /** All is laid out; the repeat begins once it is told to. */
  z.object({ event: z.literal("waiting"), repeat }),
  z.object({ event: z.literal("started"), repeat, at: z.string() }),
  /** A step begins. */
  z.object({
    event: z.literal("step"),
    repeat,
    step: z.number().int(),
    of: z.number().int(),
    label: StepLabel,
    doing: StepResult.shape.kind,
    /** How long it will take, where that is known. */
    seconds: z.number().nullable(),
    bytes: z.number().nullable(),
  }),
  z.object({
    event: z.literal("sample"),
    repeat,
    from: z.number(),
    ms: z.number(),
    bytes: z.number(),
    written: z.number(),
    requests: z.number(),
    step: z.number().int(),
    target: z.number().int(),
  }),
  z.object({ event: z.literal("reading"), repeat, reading: Reading }),
  z.object({ event: z.literal("happened"), repeat, what: RunEvent }),
  z.object({ event: z.literal("stepped"), repeat, step: z.number().int(), result: StepResult }),
  z.object({ event: z.literal("finished"), repeat, errors: z.array(ErrorCount) }),
  /** What a run had left in a directory is removed; so many bytes are free again. */
  z.object({ event: z.literal("swept"), target: z.string(), bytes: z.number() }),
  /** How a directory's ballast, and the room of its file system, stand now. */
  z.object({ event: z.literal("ballast"), ballast: Ballast, room: Room }),
  /** How many requests were recorded so far. */
  z.object({ event: z.literal("recording"), requests: z.number() }),
  /** The recording is whole: how long its file is, and how the work ended, as a shell counts. */
  z.object({
    event: z.literal("recorded"),
    bytes: z.number(),
    status: z.number().int().nullable(),
  }),
  z.object({ event: z.literal("done") }),
  z.object({ event: z.literal("stopped") }),
  z.object({ event: z.literal("refused"), code: z.string(), reason: z.string() }),
  z.object({ event: z.literal("failed"), reason: z.string() }),
]);
export type EngineEvent = z.infer<typeof EngineEvent>;
export type SampleEvent = Extract<EngineEvent, { event: "sample" }>;
