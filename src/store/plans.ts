import { desc, eq } from "drizzle-orm";
import type { Store } from "./store";
import { plans } from "./schema";

export type PlanRow = typeof plans.$inferSelect;

export function insertPlan(store: Store, row: typeof plans.$inferInsert): void {
  store.insert(plans).values(row).run();
}

export const getPlan = (store: Store, id: string): PlanRow | null =>
  store.select().from(plans).where(eq(plans.id, id)).get() ?? null;

/** A study's plans, the latest first. */
export const plansOfStudy = (store: Store, studyId: string): PlanRow[] =>
  store.select().from(plans).where(eq(plans.studyId, studyId)).orderBy(desc(plans.createdAt)).all();

export const allPlans = (store: Store): PlanRow[] => store.select().from(plans).all();

export function updatePlan(
  store: Store,
  id: string,
  change: Partial<Pick<PlanRow, "steps" | "state" | "pluggedRigs">>,
): void {
  store.update(plans).set(change).where(eq(plans.id, id)).run();
}
