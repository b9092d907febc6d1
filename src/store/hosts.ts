import { asc, eq } from "drizzle-orm";
import type { KnownHost } from "@/core/host/known-host";
import { hosts } from "./schema";
import type { Store } from "./store";

/** The hosts of the bench, in the order in which they were added. */
export const listHosts = (store: Store): KnownHost[] =>
  store.select().from(hosts).orderBy(asc(hosts.createdAt), asc(hosts.name)).all();

/** Keeps a host as it was found, a new one or one of that name. */
export function putHost(store: Store, { id, name, ...found }: KnownHost, at: string): void {
  store
    .insert(hosts)
    .values({ id, name, createdAt: at, ...found })
    .onConflictDoUpdate({ target: hosts.name, set: found })
    .run();
}

export const deleteHost = (store: Store, id: string): boolean =>
  store.delete(hosts).where(eq(hosts.id, id)).run().changes > 0;

/** How the hosts of the bench are called. */
export const hostNames = (store: Store): string[] => listHosts(store).map(({ name }) => name);
