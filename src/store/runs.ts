import { asc, desc, eq, inArray, sql } from "drizzle-orm";
import type { RunStatus } from "@/core/drills/request";
import type { Conditions, RunResult, Sample } from "@/core/drills/result";
import type { Store } from "./database";
import { measurements, runs, samples } from "./schema";

export type MeasurementRow = typeof measurements.$inferSelect;
export type RunRow = typeof runs.$inferSelect;

export function insertMeasurement(store: Store, row: typeof measurements.$inferInsert): void {
  store.insert(measurements).values(row).run();
}

export function getMeasurement(store: Store, id: string): MeasurementRow | null {
  return store.select().from(measurements).where(eq(measurements.id, id)).get() ?? null;
}

/** A study's measurements, the latest first. */
export function measurementsOfStudy(store: Store, studyId: string): MeasurementRow[] {
  return store
    .select()
    .from(measurements)
    .where(eq(measurements.studyId, studyId))
    .orderBy(desc(measurements.createdAt))
    .all();
}

export function runsOfMeasurements(store: Store, ids: readonly string[]): RunRow[] {
  return store
    .select()
    .from(runs)
    .where(inArray(runs.measurementId, [...ids]))
    .orderBy(asc(runs.repeat))
    .all();
}

export function samplesOfRun(store: Store, runId: string): Sample[] {
  return store
    .select({ ms: samples.ms, bytes: samples.bytes })
    .from(samples)
    .where(eq(samples.runId, runId))
    .orderBy(asc(samples.ms))
    .all();
}

export function setConditions(store: Store, id: string, conditions: Conditions): void {
  store.update(measurements).set({ conditions }).where(eq(measurements.id, id)).run();
}

export function setStatus(store: Store, id: string, status: RunStatus): void {
  store.update(measurements).set({ status }).where(eq(measurements.id, id)).run();
}

export function insertRun(store: Store, row: typeof runs.$inferInsert): void {
  store.insert(runs).values(row).run();
}

export function insertSamples(store: Store, runId: string, trace: readonly Sample[]): void {
  if (trace.length === 0) return;
  store
    .insert(samples)
    .values(trace.map((sample) => ({ runId, ...sample })))
    .run();
}

export function finishRun(store: Store, id: string, result: RunResult, at: string): void {
  store.update(runs).set({ status: "done", result, endedAt: at }).where(eq(runs.id, id)).run();
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

/**
 * The best run of reading, past the page cache, through rigs that held a part; by part.
 *
 * @returns MB/s, and whether that run was simulated
 */
export function bestReading(
  store: Store,
  partIds: readonly string[],
): Map<string, { mbps: number; simulated: boolean }> {
  if (partIds.length === 0) return new Map();
  const rows = store.all<{ part: string; mbps: number; simulated: number }>(sql`
    select each.value ->> 'id' as part, max(${runs.result} ->> 'meanMBps') as mbps,
      ${measurements.conditions} ->> 'simulated' as simulated
    from ${runs} join ${measurements} on ${runs.measurementId} = ${measurements.id},
      json_each(${measurements.rig}, '$.parts') as each
    where ${runs.status} = 'done' and ${measurements.drill} ->> 'direction' = 'read'
      and ${measurements.conditions} ->> 'io' = 'direct'
      and each.value ->> 'id' in ${[...partIds]}
    group by part`);
  return new Map(
    rows.map(({ part, mbps, simulated }) => [part, { mbps, simulated: simulated === 1 }]),
  );
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
