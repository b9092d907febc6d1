import * as z from "zod";
import { MOST_WORKS, Pace, Pauses } from "./recorded-work";

/**
 * What the measuring process is told to do: a drill taken apart into steps. It knows flows, rests,
 * checks and copies, and no drill by its name.
 */

/** What tells a step from the others of its drill. */
export const StepLabel = z.object({
  block: z.number().optional(),
  depth: z.number().optional(),
  /** Where on the medium it begins, bytes. */
  position: z.number().optional(),
  /** How long the drive had rested before it. */
  restSeconds: z.number().optional(),
  name: z.string().optional(),
});
export type StepLabel = z.infer<typeof StepLabel>;

const bytes = z.number().int().nonnegative();

/** Requests kept in flight over a stretch of the medium. */
export const Flow = z.object({
  do: z.literal("flow"),
  label: StepLabel.default({}),
  /** Which targets of the job, side by side; a further one begins every so many seconds. */
  targets: z.array(z.number().int().nonnegative()).min(1).default([0]),
  everySeconds: z.number().nonnegative().default(0),
  /** When each target begins, seconds after the first of them could; left out where they are everySeconds apart. */
  joins: z.array(z.number().nonnegative()).optional(),
  /** 0 reads, 1 writes; between, that share of the requests writes. */
  writeShare: z.number().min(0).max(1),
  order: z.enum(["sequential", "random"]),
  block: z.number().int().positive(),
  depth: z.number().int().positive(),
  /** The stretch: where it begins, and its length. */
  first: bytes.default(0),
  span: z.number().int().positive(),
  /** It ends after so many seconds or bytes; where both are null, when the stretch was walked once. */
  seconds: z.number().positive().nullable().default(null),
  bytes: bytes.nullable().default(null),
  /** A flow that ends by time goes on until so many requests ended, and one at least; a minute at most (timeIsOver). */
  leastRequests: z.number().int().nonnegative().default(0),
  /** Seconds of flow before counting starts. */
  leadIn: z.number().nonnegative().default(0),
  /** Whether the flush at the end is part of the time; null: no flush. */
  countFlush: z.boolean().nullable().default(null),
  compressible: z.number().min(0).max(1).default(0),
  /** Whether the stretch holds data before the step begins. */
  laidOut: z.boolean().default(true),
  /** Data that can be told from any other when it is read back: of which writing it is. */
  generation: z.number().int().min(1).max(0xffff).nullable().default(null),
  /** Goes on in rounds of so many seconds until five are steady (core/stats/steady.ts). */
  steady: z
    .object({ roundSeconds: z.number().positive(), most: z.number().int() })
    .nullable()
    .default(null),
});
export type Flow = z.infer<typeof Flow>;

/** Leaves the drive alone. */
export const Rest = z.object({
  do: z.literal("rest"),
  label: StepLabel.default({}),
  seconds: z.number().nonnegative(),
});

/** Reads a stretch back and holds every page against what was written. */
export const Check = z.object({
  do: z.literal("check"),
  label: StepLabel.default({}),
  block: z.number().int().positive(),
  depth: z.number().int().positive(),
  span: z.number().int().positive(),
  generation: z.number().int().min(1).max(0xffff),
});

/** So many files of one size. */
export const MixEntry = z.object({
  files: z.number().int().positive().max(1_000_000),
  bytes: z
    .number()
    .int()
    .nonnegative()
    .max(2 ** 43),
});
export type MixEntry = z.infer<typeof MixEntry>;

/** Copies a folder of files. */
export const Copy = z.object({
  do: z.literal("copy"),
  label: StepLabel.default({}),
  /** Which target is read and which is written; null: that side is left out. */
  from: z.number().int().nonnegative().nullable(),
  to: z.number().int().nonnegative().nullable(),
  /** Files to make up; null: the tester's own folder is the source, and is only read. */
  mix: z.array(MixEntry).min(1).nullable(),
  seed: z.number().int().nonnegative(),
  /** Whether the source is read once before, or its memory in the kernel dropped. */
  source: z.enum(["warmed", "cold", "as it is"]),
  verify: z.boolean(),
  keep: z.boolean(),
  block: z.number().int().positive(),
  compressible: z.number().min(0).max(1).default(0),
});
export type Copy = z.infer<typeof Copy>;

/** Does a recording again. */
export const Replay = z.object({
  do: z.literal("replay"),
  label: StepLabel.default({}),
  /** The recordings that are done again side by side, each over a stretch of its own. */
  works: z
    .array(z.object({ sha256: z.string(), first: bytes, span: z.number().int().positive() }))
    .min(1)
    .max(MOST_WORKS),
  pace: Pace,
  pauses: Pauses,
  /** What they move together, and of that what they write, bytes; how long the longest of them took. */
  bytes,
  written: bytes,
  ms: z.number().nonnegative(),
});
export type Replay = z.infer<typeof Replay>;

export const Step = z.discriminatedUnion("do", [Flow, Rest, Check, Copy, Replay]);
export type Step = z.infer<typeof Step>;
/** A step as a drill writes it, with what has a default left out. */
export type StepInput = z.input<typeof Step>;

/** The shortest file that holds everything a program walks over; 0 for one that walks over nothing. */
export const spanOf = (program: readonly Step[]): number => Math.max(0, ...program.map(reachOf));

/** How much of it has to be written before the program begins. */
export const laidOutBytes = (program: readonly Step[]): number =>
  Math.max(0, ...program.map((step) => (step.do === "flow" && !step.laidOut ? 0 : reachOf(step))));

/** How far into the scratch file a step goes. */
function reachOf(step: Step): number {
  if (step.do === "flow") return step.first + step.span;
  if (step.do === "replay") return Math.max(...step.works.map(({ first, span }) => first + span));
  return 0;
}

/** Whether a program writes what a device that is only ever read could not take. */
export const writes = (program: readonly Step[]): boolean =>
  program.some(
    (step) =>
      (step.do === "flow" && step.writeShare > 0) ||
      (step.do === "copy" && step.to !== null) ||
      (step.do === "replay" && step.written > 0),
  );

/** The seconds that a program takes at least; what ends by bytes is left out. */
export const leastSeconds = (program: readonly Step[]): number =>
  program.reduce(
    (sum, step) =>
      sum +
      (step.do === "rest"
        ? step.seconds
        : step.do === "flow"
          ? step.leadIn + leastCounted(step) + step.everySeconds * (step.targets.length - 1)
          : step.do === "replay"
            ? replaySeconds(step)
            : 0),
    0,
  );

/** A recording whose pauses are kept takes about as long as it did, unless the drive is much quicker or slower. */
const replaySeconds = ({ pace, pauses, ms }: Replay): number =>
  pace === "as-recorded" || pauses === "kept" ? ms / 1e3 : 0;

/** One that goes on until five rounds are steady may end with the fifth. */
const leastCounted = ({ seconds, steady }: Flow): number =>
  steady ? Math.min(seconds ?? Infinity, 5 * steady.roundSeconds) : (seconds ?? 0);

/**
 * Requests after which a rate is known to 3 %, since where the counted time is cut decides on one more
 * or one less.
 */
export const ENOUGH_REQUESTS = 33;
/** For so long at most a step goes on for want of requests, and of a first one. Milliseconds. */
const PATIENCE_MS = 60_000;
const FIRST_MS = 20_000;

/**
 * Whether a flow that ends by time has come to its end.
 *
 * @param ms counted
 * @param requests that ended meanwhile
 */
export const timeIsOver = (
  { seconds, leastRequests }: Pick<Flow, "seconds" | "leastRequests">,
  ms: number,
  requests: number,
): boolean =>
  seconds !== null &&
  ms >= seconds * 1e3 - 1e-6 &&
  // Of a drive that has not answered once, nothing could be said.
  (requests < 1 ? ms >= FIRST_MS : requests >= leastRequests || ms >= PATIENCE_MS);

/** Seconds of flow before counting starts, so that queues and throttles are in their steady state. */
export const leadInOf = (seconds: number): number => Math.min(1, seconds / 4);

/** How much a step moves, where that is known before; bytes. */
export const movesBytes = (step: Step): number | null =>
  step.do === "flow" || step.do === "replay" ? step.bytes : step.do === "check" ? step.span : null;
