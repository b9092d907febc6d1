import type Database from "better-sqlite3";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import type * as schema from "./schema";

/** An open database, with the tables that the schema says. */
export type Store = BetterSQLite3Database<typeof schema> & { $client: Database.Database };
