import fs from "node:fs";
import path from "node:path";
import Database from "better-sqlite3";
import { drizzle, type BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import { migrate } from "drizzle-orm/better-sqlite3/migrator";
import { naturalKey } from "@/core/units/natural";
import { packOldTraces } from "./old-traces";
import * as schema from "./schema";

export type Store = BetterSQLite3Database<typeof schema> & { $client: Database.Database };

/** The folder all of Nerrit's own data lives in: NERRIT_DATA, or data/ in the project. */
export function dataFolder(): string {
  return path.resolve(
    /* turbopackIgnore: true */ process.env.NERRIT_DATA ||
      path.join(/* turbopackIgnore: true */ process.cwd(), "data"),
  );
}

/**
 * Opens the database, creates it where there is none, and brings its tables up to date.
 *
 * @param folder where it lives; made if missing
 * @param migrations folder with the migrations
 */
export function openStore(
  folder: string,
  migrations = path.join(/* turbopackIgnore: true */ process.cwd(), "src", "store", "migrations"),
): Store {
  fs.mkdirSync(folder, { recursive: true });
  const client = new Database(path.join(/* turbopackIgnore: true */ folder, "nerrit.sqlite"));
  client.pragma("journal_mode = WAL");
  client.pragma("synchronous = NORMAL");
  client.pragma("foreign_keys = ON");
  client.pragma("busy_timeout = 5000");
  client.function("natural_key", { deterministic: true }, (name) => naturalKey(String(name)));
  const store = drizzle(client, { schema, casing: "snake_case" });
  migrate(store, { migrationsFolder: migrations });
  const opened = Object.assign(store, { $client: client });
  packOldTraces(opened);
  return opened;
}
