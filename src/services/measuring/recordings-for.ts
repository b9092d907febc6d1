import type { Drill } from "@/core/drills/drill";
import { worksOf } from "@/core/drills/kinds/encore";
import { Problem } from "../problem";

/**
 * Where the recordings lie that a drill does again, by their digests.
 *
 * @param fileWith finds a recording's file; null where it is not here
 * @throws Problem where one is not here
 */
export function recordingsFor(
  drill: Drill,
  fileWith: (sha256: string) => string | null = () => null,
): Record<string, string> {
  const works = worksOf(drill);
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
