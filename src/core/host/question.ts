import * as z from "zod";
import { KnownCache, TargetFacts } from "../drills/parameter";
import { SeenAround } from "../preflight/seen-around";
import { SeenDrive } from "../system/drive";
import { SystemReport } from "../system/system-report";

const bytes = z.number().nonnegative();

/**
 * What a machine is asked before a run. Another host's measuring process is asked in a job's place, one line in, one
 * out; it looks there as this machine does here.
 */
export const Question = z.discriminatedUnion("ask", [
  /** What the usual settings of a drill follow from. */
  z.object({
    ask: z.literal("target"),
    target: z.string().min(1),
    reserve: bytes.nullable(),
    cache: KnownCache.nullable(),
  }),
  /** What is plugged in. */
  z.object({ ask: z.literal("drives") }),
  /** The way to a directory or device. */
  z.object({ ask: z.literal("system"), path: z.string().min(1) }),
  /** What a run would meet; looks for a second. */
  z.object({
    ask: z.literal("around"),
    target: z.string().min(1),
    reserve: bytes.nullable(),
    /** Where Nerrit's own data lies; null where that is another machine. */
    own: z.string().nullable(),
  }),
]);
export type Question = z.infer<typeof Question>;

export const Answer = z.discriminatedUnion("answer", [
  z.object({ answer: z.literal("target"), facts: TargetFacts.nullable() }),
  z.object({ answer: z.literal("drives"), drives: z.array(SeenDrive) }),
  z.object({ answer: z.literal("system"), report: SystemReport }),
  z.object({ answer: z.literal("around"), around: SeenAround }),
  z.object({ answer: z.literal("refused"), code: z.string(), reason: z.string() }),
]);
export type Answer = z.infer<typeof Answer>;

/** The answer to a question of a kind, where it was not refused. */
export type AnswerTo<Q extends Question> = Extract<Answer, { answer: Q["ask"] }>;
