import * as z from "zod";
import { Answer } from "@/core/archive/answer";
import { ArchiveLook } from "@/core/archive/look";

/** What the archive's process is asked to do; it does one thing and ends. */
export type ArchiveOrder =
  | {
      do: "archive";
      /** Where the bench's data lies, and the migrations of this program. */
      data: string;
      migrations: string;
      to: string;
      samples: boolean;
    }
  | { do: "ask"; archives: string[]; sql: string; ms: number; rows: number }
  | { do: "look"; archive: string };

const count = z.number().int().nonnegative();
export const Progress = z.object({ done: count, of: count, added: count });
export type Progress = z.infer<typeof Progress>;

/** What the process says. */
export const ArchiveSaid = z.union([
  z.object({ progress: Progress }),
  z.object({ archived: Progress }),
  z.object({ answer: Answer }),
  z.object({ look: ArchiveLook }),
  z.object({ problem: z.string() }),
]);
export type ArchiveSaid = z.infer<typeof ArchiveSaid>;
