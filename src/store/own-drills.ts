import { asc, eq } from "drizzle-orm";
import type { Drill } from "@/core/drills/drill";
import type { Store } from "./store";
import { ownDrills } from "./schema";

export const listOwnDrills = (store: Store): { id: string; drill: Drill }[] =>
  store
    .select({ id: ownDrills.id, drill: ownDrills.drill })
    .from(ownDrills)
    .orderBy(asc(ownDrills.createdAt))
    .all();

export function insertOwnDrill(store: Store, id: string, drill: Drill, at: string): void {
  store.insert(ownDrills).values({ id, drill, createdAt: at }).run();
}

export const deleteOwnDrill = (store: Store, id: string): boolean =>
  store.delete(ownDrills).where(eq(ownDrills.id, id)).run().changes > 0;
