import path from "node:path";
import Database from "better-sqlite3";
import { drizzle } from "drizzle-orm/better-sqlite3";
import { migrate } from "drizzle-orm/better-sqlite3/migrator";
import { naturalKey } from "@/core/units/natural";
import { countWrites } from "./count-writes";
import { backUpBefore, finishRestore } from "./backup";
import { checkData } from "./check";
import { packOldTraces } from "./old-traces";
import { programRoot } from "./program-root";
import * as schema from "./schema";
import type { Store } from "./store";

export type { Store };

/** The database in a data folder. */
export const databaseIn = (folder: string): string =>
  path.join(/* turbopackIgnore: true */ folder, "nerrit.sqlite");

/** The migrations of this program. */
export const ownMigrations = (): string =>
  path.join(/* turbopackIgnore: true */ programRoot(), "src", "store", "migrations");

/** How long a write waits for another program to let go of the database, milliseconds. */
export const BUSY_MS = 1000;

/** The folder all of Nerrit's own data lives in: NERRIT_DATA, or data/ in the project. */
export function dataFolder(): string {
  return path.resolve(
    /* turbopackIgnore: true */ process.env.NERRIT_DATA ||
      path.join(/* turbopackIgnore: true */ programRoot(), "data"),
  );
}

/**
 * Opens the database, creates it where there is none, and brings its tables up to date.
 *
 * @param folder where it lives; made if missing
 * @param migrations folder with the migrations
 * @throws StoreProblem where the folder or the database in it cannot be worked with
 */
export function openStore(folder: string, migrations = ownMigrations()): Store {
  const file = databaseIn(folder);
  finishRestore(file);
  checkData(folder, file, migrations);
  const client = new Database(file);
  client.pragma("journal_mode = WAL");
  client.pragma("synchronous = NORMAL");
  client.pragma("foreign_keys = ON");
  client.pragma(`busy_timeout = ${BUSY_MS}`);
  client.function("natural_key", { deterministic: true }, (name) => naturalKey(String(name)));
  backUpBefore(client, file, migrations);
  const store = drizzle(client, { schema, casing: "snake_case" });
  migrate(store, { migrationsFolder: migrations });
  const opened = Object.assign(store, { $client: client });
  packOldTraces(opened);
  countWrites(client);
  return opened;
}
