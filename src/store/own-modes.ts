import { asc, eq } from "drizzle-orm";
import type { Store } from "./store";
import { ownModes } from "./schema";

/** Identifiers of the modes that the tester described, the oldest first. */
export const listOwnModes = (store: Store): string[] =>
  store
    .select()
    .from(ownModes)
    .orderBy(asc(ownModes.createdAt), asc(ownModes.id))
    .all()
    .map(({ id }) => id);

export function insertOwnMode(store: Store, id: string, at: string): void {
  store.insert(ownModes).values({ id, createdAt: at }).onConflictDoNothing().run();
}

export const deleteOwnMode = (store: Store, id: string): boolean =>
  store.delete(ownModes).where(eq(ownModes.id, id)).run().changes > 0;
