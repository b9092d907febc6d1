import { z } from "zod";
import { Drill } from "@/core/drills/drill";
import { Conditions, RunResult } from "@/core/drills/result";

/**
 * What passes between the measuring process and whoever started it, one JSON document a line: the
 * job goes in first, "stop" may follow; events come out. The end of its input means that the parent
 * is gone, and is taken as "stop".
 */
export const Job = z.object({
  /** Directory for a scratch file, or block device (reading only). Absolute. */
  target: z.string().min(1),
  drill: Drill,
  io: z.enum(["direct", "buffered"]),
  /** Bytes to leave free; null for the larger of 2 % of the file system and 1 GiB. */
  reserve: z.number().int().nonnegative().nullable(),
  /** Refuse a target on the device that holds this path (Nerrit's own database); null: allow any. */
  keepOff: z.string().nullable(),
  nerrit: z.string(),
});
export type Job = z.infer<typeof Job>;

export const EngineEvent = z.discriminatedUnion("event", [
  z.object({ event: z.literal("conditions"), conditions: Conditions }),
  /** The scratch file is being written before the drill. */
  z.object({ event: z.literal("preparing"), bytes: z.number(), total: z.number() }),
  z.object({ event: z.literal("started"), repeat: z.number().int(), at: z.string() }),
  z.object({
    event: z.literal("sample"),
    repeat: z.number().int(),
    ms: z.number(),
    bytes: z.number(),
  }),
  z.object({ event: z.literal("finished"), repeat: z.number().int(), result: RunResult }),
  z.object({ event: z.literal("done") }),
  z.object({ event: z.literal("stopped") }),
  z.object({ event: z.literal("refused"), code: z.string(), reason: z.string() }),
  z.object({ event: z.literal("failed"), reason: z.string() }),
]);
export type EngineEvent = z.infer<typeof EngineEvent>;
