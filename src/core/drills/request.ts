import { z } from "zod";
import { Direction } from "../units/rate";
import { absolutePath } from "../units/text";
import { Drill, HAUL } from "./drill";

/** What a tester asks for when measuring a rig: where, how, and with which drill. */
export const MeasureRequest = z.object({
  rigId: z.string(),
  target: absolutePath("name the directory on the drive, or the block device"),
  direction: Direction,
  block: Drill.shape.block.default(HAUL.block),
  depth: Drill.shape.depth.default(HAUL.depth),
  span: Drill.shape.span.default(HAUL.span),
  seconds: Drill.shape.seconds.default(HAUL.seconds),
  repeats: Drill.shape.repeats.default(HAUL.repeats),
  io: z.enum(["direct", "buffered"]).default("direct"),
  /** Bytes to leave free on the file system; null: the larger of 2 % and 1 GiB. */
  reserve: z
    .number({ error: "must be a size, for example 1GiB" })
    .int()
    .nonnegative("must not be negative")
    .nullable()
    .default(null),
  /** The tester knows that the target shares its drive with Nerrit's own data. */
  besideOwnData: z.boolean().default(false),
});
export type MeasureRequest = z.infer<typeof MeasureRequest>;

/** How a measurement or a run stands. */
export const RunStatus = z.enum([
  "preparing",
  "running",
  "done",
  "stopped",
  "refused",
  "failed",
  "interrupted",
]);
export type RunStatus = z.infer<typeof RunStatus>;

/** Statuses that will not change any more. */
export const ENDED: readonly RunStatus[] = ["done", "stopped", "refused", "failed", "interrupted"];
