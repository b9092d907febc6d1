import { and, desc, eq, lt } from "drizzle-orm";
import type { RemovedKind } from "@/core/study/removed";
import { removed } from "./schema";
import type { Store } from "./store";

export type RemovedRow = typeof removed.$inferSelect;

/** Notes that something was removed; what was noted of it before is forgotten. */
export function insertRemoved(store: Store, row: RemovedRow): void {
  store.transaction(() => {
    deleteRemovedOf(store, row.kind, row.of);
    store.insert(removed).values(row).run();
  });
}

export const getRemoved = (store: Store, id: string): RemovedRow | null =>
  store.select().from(removed).where(eq(removed.id, id)).get() ?? null;

/** What was noted of one of a kind; null where nothing was. */
export const getRemovedOf = (store: Store, kind: RemovedKind, of: string): RemovedRow | null =>
  store.select().from(removed).where(isOf(kind, of)).get() ?? null;

const isOf = (kind: RemovedKind, of: string) => and(eq(removed.kind, kind), eq(removed.of, of));

/** Everything that is noted, the latest first. */
export const listRemoved = (store: Store): RemovedRow[] =>
  store.select().from(removed).orderBy(desc(removed.at)).all();

export const deleteRemovedOf = (store: Store, kind: RemovedKind, of: string): void => {
  store.delete(removed).where(isOf(kind, of)).run();
};

/** Forgets what was noted before an instant. @returns what it was */
export const deleteRemovedBefore = (store: Store, before: string): RemovedRow[] =>
  store.delete(removed).where(lt(removed.at, before)).returning().all();
