import * as z from "zod";

/** A place that a study's rigs leave open when the study is copied: the part that stands there, and what else can. */
export const Slot = z.object({
  part: z.object({ id: z.string(), name: z.string() }),
  /** Its kind, in words. */
  kind: z.string(),
  /** Parts of the same kind on the shelf, the part itself among them. */
  others: z.array(z.object({ id: z.string(), name: z.string() })),
});
export type Slot = z.infer<typeof Slot>;
