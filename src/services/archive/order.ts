import * as z from "zod";
import { Answer } from "@/core/archive/answer";
import { ArchiveLook } from "@/core/archive/look";
import { ArchiveProgress } from "@/core/archive/view";

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
  | { do: "look"; archive: string }
  | { do: "study"; archives: string[]; studyId: string };

/** What it makes, by the name under which it says so. */
const Made = {
  archived: ArchiveProgress,
  answer: Answer,
  look: ArchiveLook,
  /** The file of a study, as text. */
  study: z.string(),
};
export type ArchiveMade = { [M in keyof typeof Made]: z.infer<(typeof Made)[M]> };

/** What the process says. */
export const ArchiveSaid = z.union([
  z.object({ progress: ArchiveProgress }),
  z.object({ archived: Made.archived }),
  z.object({ answer: Made.answer }),
  z.object({ look: Made.look }),
  z.object({ study: Made.study }),
  z.object({ problem: z.string() }),
]);
export type ArchiveSaid = z.infer<typeof ArchiveSaid>;
