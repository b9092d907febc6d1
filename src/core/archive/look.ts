import * as z from "zod";

const count = z.number().int().nonnegative();

/** What an archive holds, in figures. */
export const ArchiveLook = z.object({
  runs: count,
  samples: count,
  parts: count,
  hosts: z.array(z.string()),
  /** When the first and the last of its runs began; null where it holds none. */
  from: z.string().nullable(),
  until: z.string().nullable(),
  bytes: count,
});
export type ArchiveLook = z.infer<typeof ArchiveLook>;
