import { eq } from "drizzle-orm";
import type { Store } from "./store";
import { settings } from "./schema";

/** A setting of the bench, as it was kept; null where none was. */
export const getSetting = (store: Store, name: string): unknown =>
  store.select().from(settings).where(eq(settings.name, name)).get()?.value ?? null;

/** Keeps a setting of the bench. */
export function putSetting(store: Store, name: string, value: unknown): void {
  store
    .insert(settings)
    .values({ name, value })
    .onConflictDoUpdate({ target: settings.name, set: { value } })
    .run();
}
