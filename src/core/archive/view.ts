import * as z from "zod";
import { absolutePath } from "../units/text";
import type { ArchiveLook } from "./look";
import { Filters } from "./questions/question";

/** Archives that are asked together at most. */
const MOST_OTHERS = 15;

const folder = absolutePath("name a folder");

/** Where a bench is archived, and which other archives are asked with it. */
export const ArchiveSettings = z.object({
  folder: folder.nullable(),
  /** Whether the sample studies are archived too. */
  samples: z.boolean(),
  others: z.array(folder).max(MOST_OTHERS, `at most ${MOST_OTHERS} other archives`),
});
export type ArchiveSettings = z.infer<typeof ArchiveSettings>;

export const USUAL_ARCHIVE: ArchiveSettings = { folder: null, samples: false, others: [] };

const count = z.number().int().nonnegative();

/** How far the archiving of a bench has come, in runs. */
export const ArchiveProgress = z.object({ done: count, of: count, added: count });
export type ArchiveProgress = z.infer<typeof ArchiveProgress>;

/** What the page of archives shows. */
export interface ArchiveView {
  settings: ArchiveSettings;
  /** What this bench's archive holds; null where there is none yet. */
  look: ArchiveLook | null;
  /** Why it could not be looked at, or written the last time. */
  trouble: string | null;
  /** While it is written; null else. */
  progress: ArchiveProgress | null;
}

/** Characters of one's own SQL at most. */
const MOST_SQL = 20_000;

/** A question as the page asks it: a ready one with its filters, or SQL. */
export const Asked = z.union([
  z.object({ question: z.string().max(80), filters: Filters }),
  z.object({
    sql: z
      .string()
      .trim()
      .min(1, "write a SELECT statement")
      .max(MOST_SQL, `at most ${MOST_SQL} characters`),
  }),
]);
export type Asked = z.input<typeof Asked>;
