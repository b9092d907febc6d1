import * as z from "zod";
import { Stated, UNSAID } from "../run/stated";
import { placeOnAnyHost } from "../units/place";
import { USUAL_DRILL } from "./catalogue";
import { DrillDirectionSchema } from "./drill";

/**
 * What a tester asks for when measuring a rig: where, how, and with which drill. Every parameter of
 * the drill may stand beside these, by its name; what is left out is as usual (core/drills/settle.ts). A place on
 * another host is told with its name, "lab2:/media/drive".
 */
export const MeasureRequest = z.looseObject({
  rigId: z.string(),
  target: placeOnAnyHost("name the directory on the drive, or the block device"),
  /** Of a copy: the folder at its other end. */
  other: placeOnAnyHost("name the folder").nullable().default(null),
  /** Further drives of a Convoy. */
  more: z
    .array(placeOnAnyHost("name the directory on the drive"))
    .max(31, "at most 32 drives")
    .default([]),
  drill: z.string().default(USUAL_DRILL.name),
  title: z.string().optional(),
  direction: DrillDirectionSchema.optional(),
  repeats: z.number().optional(),
  io: z.enum(["direct", "buffered"]).default("direct"),
  /** Bytes to leave free on the file system; null: the larger of 2 % and 1 GiB. */
  reserve: z
    .number({ error: "must be a size, for example 1GiB" })
    .int()
    .nonnegative("must not be negative")
    .nullable()
    .default(null),
  /** The write cache of the drive as the tester states it, bytes. */
  cache: z.number().positive().nullable().default(null),
  /** The tester knows that the target shares its drive with Nerrit's own data. */
  besideOwnData: z.boolean().default(false),
  /** What the tester says of the bench. */
  stated: Stated.default(UNSAID),
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
