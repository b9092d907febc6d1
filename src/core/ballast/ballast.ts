import * as z from "zod";
import { MOST_BYTES } from "../units/bounds";

/** Files of Nerrit's own that keep a drive at a stated fill level while other drills run. */

/** The folder of the ballast, in the folder that the tester names. */
export const BALLAST_FOLDER = "nerrit-ballast";

/** A fill level that ballast is asked for: what is in use of the whole file system, 0 to 1. */
export const FillLevel = z
  .number({ error: "must be a share, for example 85%" })
  .min(0, "must not be negative")
  .max(0.99, "at most 99 %");

/** The ballast that lies in a folder. */
export const Ballast = z.object({
  bytes: z.number().nonnegative().max(MOST_BYTES),
  /** The level that it was made for; null where its making was cut short. */
  level: FillLevel.nullable(),
});
export type Ballast = z.infer<typeof Ballast>;

/** A file system's room, bytes: what this user may still write, and all of it. */
export const Room = z.object({
  free: z.number().nonnegative().max(MOST_BYTES),
  total: z.number().nonnegative().max(MOST_BYTES),
});
export type Room = z.infer<typeof Room>;

/** What is in use of a file system, 0 to 1: what this user cannot write any more. */
export const fillOf = ({ free, total }: Room): number => (total > 0 ? 1 - free / total : 0);
