import * as z from "zod";
import { line } from "../units/text";

/** A picture of a part, a rig or a run: the opened box, its chip, a damage, a thermal picture. */
export const PhotoRef = z.object({
  /** SHA-256 of what it holds. */
  id: z.string().regex(/^[0-9a-f]{64}$/, "is no picture's identifier"),
  /** What it shows: for those who do not see it too. */
  caption: line(300).min(1, "say what it shows"),
});
export type PhotoRef = z.infer<typeof PhotoRef>;

/** Pictures of one part, rig or run at most. */
export const MOST_PHOTOS = 8;

/** The pictures of a part, a rig or a run. */
export const PhotoRefs = z
  .array(PhotoRef)
  .max(MOST_PHOTOS, `at most ${MOST_PHOTOS} pictures`)
  .default([]);
