import { inArray, sql } from "drizzle-orm";
import { BENCH } from "./count-writes";
import { writes } from "./schema";
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

/**
 * A text that is another one after anything was written that a study's conclusions rest on: its rigs and
 * runs, and what all studies share. What a run that goes on stores each second changes nothing of it.
 */
export function studyVersion(store: Store, studyId: string): string {
  const found = store
    .select()
    .from(writes)
    .where(inArray(writes.of, [BENCH, studyId]))
    .all();
  const count = (of: string) => found.find((one) => one.of === of)?.count ?? 0;
  return `${count(BENCH)} ${count(studyId)}`;
}

/** A text that is another one after anything was written that all studies share. */
export function benchVersion(store: Store): string {
  const found = store
    .select()
    .from(writes)
    .where(inArray(writes.of, [BENCH]))
    .get();
  return String(found?.count ?? 0);
}

/** For each study, how often anything of its own was written: its rigs and runs, without what all studies share. */
export const ownVersions = (store: Store): ReadonlyMap<string, number> =>
  new Map(
    store
      .select()
      .from(writes)
      .all()
      .map(({ of, count }) => [of, count]),
  );
