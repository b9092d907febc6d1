import type { Drill } from "@/core/drills/drill";
import { worksOf } from "@/core/drills/kinds/encore";
import { Problem } from "../problem";

/**
 * Where the recordings lie that a drill does again, by their digests.
 *
 * @param host the host that the drill is done on; null for this machine
 * @param fileWith finds a recording's file; null where it is not here
 * @throws Problem where one is not here, or the drill is done elsewhere
 */
export function recordingsFor(
  drill: Drill,
  host: string | null,
  fileWith: (sha256: string) => string | null = () => null,
): Record<string, string> {
  const works = worksOf(drill);
  if (works.length > 0 && host !== null)
    throw new Problem(422, "Recorded work can be done again on this machine only.");
  return Object.fromEntries(
    works.map(({ sha256, name }) => {
      const file = fileWith(sha256);
      if (file) return [sha256, file];
      throw new Problem(
        422,
        `The recording “${name}” is not here: it was deleted, or made elsewhere. Add its file, or choose another one.`,
      );
    }),
  );
}
