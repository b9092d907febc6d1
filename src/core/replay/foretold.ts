import * as z from "zod";

/** How long a study's recorded work would take through one of its rigs. */
export const ForetoldTime = z.object({
  /** Which work, done how (core/compare/works.ts). */
  key: z.string(),
  rigId: z.string(),
  ms: z.number().nonnegative(),
  waitedMs: z.number().nonnegative(),
  /** How far the fits that it rests on are off at most, as a share. */
  worst: z.number().nonnegative(),
});
export type ForetoldTime = z.infer<typeof ForetoldTime>;

/** Recorded work that was done on no rig of a study yet. */
export const UndoneWork = z.object({
  key: z.string(),
  name: z.string(),
  /** How it would be done again. */
  how: z.string(),
  recordedSeconds: z.number().nonnegative(),
});
export type UndoneWork = z.infer<typeof UndoneWork>;

/** What is foretold of a study's recorded work, as the page asks for it. */
export const ForetoldWorks = z.object({
  undone: z.array(UndoneWork),
  times: z.array(ForetoldTime),
});
export type ForetoldWorks = z.infer<typeof ForetoldWorks>;
