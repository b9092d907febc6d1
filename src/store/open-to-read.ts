import fs from "node:fs";
import Database from "better-sqlite3";
import { drizzle } from "drizzle-orm/better-sqlite3";
import { naturalKey } from "@/core/units/natural";
import { latestDone, newestKnown } from "./newest";
import * as schema from "./schema";
import type { Store } from "./store";
import { StoreProblem } from "./store-problem";

/**
 * Opens a database to read it, also while a server works with it. Nothing is written.
 *
 * @param file the database @param migrations folder with the migrations of this program
 * @throws StoreProblem where there is none, or it is not of this version
 */
export function openToRead(file: string, migrations: string): Store {
  if (!fs.existsSync(file))
    throw new StoreProblem(
      `There is no database ${file} yet. Start Nerrit once, or name its data folder with NERRIT_DATA.`,
    );
  const client = new Database(file, { readonly: true, fileMustExist: true, timeout: 5000 });
  try {
    const [latest, newest] = [latestDone(client), newestKnown(migrations)];
    if (latest !== newest)
      throw new StoreProblem(
        `The database ${file} is of ${latest < newest ? "an older" : "a newer"} version of Nerrit. Start ${latest < newest ? "this version once: it brings the database up to date" : "that version"}.`,
      );
  } catch (error) {
    client.close();
    if (error instanceof StoreProblem) throw error;
    throw new StoreProblem(`The database ${file} cannot be read: ${(error as Error).message}.`);
  }
  client.function("natural_key", { deterministic: true }, (name) => naturalKey(String(name)));
  return Object.assign(drizzle(client, { schema, casing: "snake_case" }), { $client: client });
}
