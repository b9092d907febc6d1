import * as z from "zod";

/** Rows that an answer holds at most; CSV holds the same. */
export const MOST_ROWS = 100_000;

/** Rows that answer a question, as the archive's engine gave them. */
export const Answer = z.object({
  columns: z.array(z.object({ name: z.string(), type: z.string() })),
  /** Numbers beyond 2^53 and moments come as text. */
  rows: z.array(z.array(z.unknown())),
  /** Whether there were more rows than an answer holds. */
  isCut: z.boolean(),
  /** How long the engine took. */
  ms: z.number().nonnegative(),
});
export type Answer = z.infer<typeof Answer>;
