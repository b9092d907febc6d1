import fs from "node:fs";
import path from "node:path";

/** When the latest migration that this program knows was made. */
export function newestKnown(migrations: string): number {
  const journal = path.join(/* turbopackIgnore: true */ migrations, "meta", "_journal.json");
  const { entries } = JSON.parse(fs.readFileSync(journal, "utf8")) as {
    entries: { when: number }[];
  };
  return Math.max(...entries.map(({ when }) => when));
}
