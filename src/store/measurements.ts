import { and, desc, eq, getTableColumns, inArray, isNotNull, isNull, sql } from "drizzle-orm";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import type { RunStatus } from "@/core/drills/request";
import type { Conditions } from "@/core/run/result";
import type { Store } from "./store";
import { measurements, runs } from "./schema";

export type MeasurementRow = typeof measurements.$inferSelect;

export function insertMeasurement(store: Store, row: typeof measurements.$inferInsert): void {
  store.insert(measurements).values(row).run();
}

export function getMeasurement(store: Store, id: string): MeasurementRow | null {
  const there = and(eq(measurements.id, id), isNull(measurements.removedAt));
  return store.select().from(measurements).where(there).get() ?? null;
}

/** Takes a measurement out of sight, or puts it back. @param at since when; null puts it back @returns whether there is such a one */
export const setMeasurementRemoved = (store: Store, id: string, at: string | null): boolean =>
  store.update(measurements).set({ removedAt: at }).where(eq(measurements.id, id)).run().changes >
  0;

/** Takes removed ones of some measurements for good: what has the same identifier comes in anew. */
export const sweepMeasurements = (store: Store, ids: readonly string[]): void => {
  store
    .delete(measurements)
    .where(and(inArray(measurements.id, [...ids]), isNotNull(measurements.removedAt)))
    .run();
};

/** Takes measurements out of the database for good, with their runs. */
export function deleteMeasurements(store: Store, ids: readonly string[]): void {
  store
    .delete(measurements)
    .where(inArray(measurements.id, [...ids]))
    .run();
}

/** A study's measurements, the latest first. Equal rigs and drills of it are one object. */
export function measurementsOfStudy(store: Store, studyId: string): MeasurementRow[] {
  const rows = store
    .select({
      ...getTableColumns(measurements),
      rig: sql<string>`${measurements.rig}`,
      drill: sql<string>`${measurements.drill}`,
    })
    .from(measurements)
    .where(and(eq(measurements.studyId, studyId), isNull(measurements.removedAt)))
    .orderBy(desc(measurements.createdAt))
    .all();
  const known = new Map<string, unknown>();
  const once = <T>(text: string): T => {
    if (!known.has(text)) known.set(text, JSON.parse(text));
    return known.get(text) as T;
  };
  return rows.map((row) => ({ ...row, rig: once<Rig>(row.rig), drill: once<Drill>(row.drill) }));
}

export function setConditions(store: Store, id: string, conditions: Conditions): void {
  store.update(measurements).set({ conditions }).where(eq(measurements.id, id)).run();
}

export function setStatus(store: Store, id: string, status: RunStatus): void {
  store.update(measurements).set({ status }).where(eq(measurements.id, id)).run();
}

/** Ends a measurement, and with it the run that was going on, keeping its samples. */
export function endMeasurement(
  store: Store,
  id: string,
  status: RunStatus,
  reason: string | null,
  at: string,
): void {
  store.transaction((tx) => {
    tx.update(measurements)
      .set({ status, reason, endedAt: at })
      .where(eq(measurements.id, id))
      .run();
    const open = tx
      .select()
      .from(runs)
      .where(eq(runs.measurementId, id))
      .all()
      .filter((run) => run.status === "running")
      .map((run) => run.id);
    if (open.length > 0) {
      tx.update(runs).set({ status, endedAt: at }).where(inArray(runs.id, open)).run();
    }
  });
}

/** Measurements that were under way when the server died. */
export function unfinishedMeasurements(store: Store): MeasurementRow[] {
  return store
    .select()
    .from(measurements)
    .where(inArray(measurements.status, ["preparing", "running"]))
    .all();
}

/** Forgets a measurement that never began. */
export function deleteMeasurement(store: Store, id: string): void {
  store.delete(measurements).where(eq(measurements.id, id)).run();
}
