import * as z from "zod";
import { Room } from "../ballast/ballast";
import type { TargetFacts } from "../drills/parameter";
import { SeenDrive } from "../system/drive";

const bytes = z.number().nonnegative();

const KnownCache = z.object({ bytes, from: z.enum(["stated", "found"]) });

const Facts = z.object({
  kind: z.enum(["directory", "device"]),
  room: bytes,
  space: Room.optional(),
  smallestBlock: bytes.nullable(),
  cache: KnownCache.nullable(),
}) satisfies z.ZodType<TargetFacts>;

/**
 * In a job's place, what a measuring process on another host is asked before a run: one line in, one out. It
 * looks there as this machine's own process would here.
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
]);
export type Question = z.infer<typeof Question>;

export const Answer = z.discriminatedUnion("answer", [
  z.object({ answer: z.literal("target"), facts: Facts.nullable() }),
  z.object({ answer: z.literal("drives"), drives: z.array(SeenDrive) }),
  z.object({ answer: z.literal("refused"), code: z.string(), reason: z.string() }),
]);
export type Answer = z.infer<typeof Answer>;
