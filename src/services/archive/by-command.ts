import path from "node:path";
import type { ArchiveLook } from "@/core/archive/look";
import type { Answer } from "@/core/archive/answer";
import type { ArchiveProgress } from "@/core/archive/view";
import { dataFolder, ownMigrations } from "@/store/database";
import { inArchiveProcess } from "./process";

/**
 * Adds what an archive lacks of this user's bench, whether or not its server works with it.
 *
 * @returns runs added, and what the archive holds now
 * @throws Problem that says why it cannot be written
 */
export async function archiveBench(
  to: string,
  samples: boolean,
  onProgress: (progress: ArchiveProgress) => void,
): Promise<{ added: number; archive: ArchiveLook }> {
  const archive = path.resolve(to);
  const { added } = await inArchiveProcess(
    "archived",
    { do: "archive", data: dataFolder(), migrations: ownMigrations(), to: archive, samples },
    { onProgress },
  );
  return { added, archive: await inArchiveProcess("look", { do: "look", archive }) };
}

/** Asks archives. @param ms ends the question after this time @throws Problem that says why there is no answer */
export const askArchives = (
  archives: readonly string[],
  sql: string,
  ms: number,
  rows: number,
): Promise<Answer> =>
  inArchiveProcess(
    "answer",
    { do: "ask", archives: archives.map((one) => path.resolve(one)), sql, ms, rows },
    { ms },
  );
