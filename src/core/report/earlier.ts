import * as z from "zod";

/** What an issue of a report said, as far as the next one is held against it. */
export const Earlier = z.object({
  number: z.number().int().positive(),
  issuedAt: z.string(),
  runs: z.array(z.string()),
  rigs: z.array(z.object({ id: z.string(), name: z.string() })),
  /** Medians by rig, drill and direction, MB/s. */
  rates: z.record(z.string(), z.number()),
  /** What was said of each claim, by its key. */
  verdicts: z.record(z.string(), z.object({ claim: z.string(), said: z.string() })),
});
export type Earlier = z.infer<typeof Earlier>;
