import { sql } from "drizzle-orm";
import type { Store } from "./store";

/**
 * A text that is another one after anything was written, by this process or by another: the changes
 * that this connection made, and SQLite's own count of those that others did (PRAGMA data_version).
 */
export function versionOf(store: Store): string {
  const [own] = store.all<{ n: number }>(sql`select total_changes() as n`);
  const [others] = store.all<{ data_version: number }>(sql`pragma data_version`);
  return `${own!.n} ${others!.data_version}`;
}
