import fs from "node:fs";
import path from "node:path";
import type Database from "better-sqlite3";

/** When the latest migration that this program knows was made. */
export function newestKnown(migrations: string): number {
  const journal = path.join(/* turbopackIgnore: true */ migrations, "meta", "_journal.json");
  const { entries } = JSON.parse(fs.readFileSync(journal, "utf8")) as {
    entries: { when: number }[];
  };
  return Math.max(...entries.map(({ when }) => when));
}

/** When the latest migration was made that a database has. */
export const latestDone = (client: Database.Database): number =>
  (
    client.prepare("select max(created_at) as latest from __drizzle_migrations").get() as {
      latest: number;
    }
  ).latest;
