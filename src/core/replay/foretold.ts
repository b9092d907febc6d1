import * as z from "zod";

/** How long a study's recorded work would take through one of its rigs, as the page asks for it. */
export const ForetoldWork = z.object({
  /** Which work, done how (core/compare/works.ts). */
  key: z.string(),
  rigId: z.string(),
  ms: z.number().nonnegative(),
  waitedMs: z.number().nonnegative(),
  /** How far the fits that it rests on are off at most, as a share. */
  worst: z.number().nonnegative(),
});
export type ForetoldWork = z.infer<typeof ForetoldWork>;
