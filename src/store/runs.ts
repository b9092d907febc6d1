import { and, asc, eq, inArray, isNull, sql, type SQL } from "drizzle-orm";
import { briefOf, type BriefResult } from "@/core/run/brief";
import { keptOf } from "@/core/reading/kept";
import { ENDED, type RunStatus } from "@/core/drills/request";
import type { BriefRun } from "@/core/study/measurement";
import type { ErrorCount, RunResult, Sample, StepResult } from "@/core/run/result";
import type { PhotoRef } from "@/core/chain/photo-ref";
import type { Correction } from "@/core/run/mark";
import { packSamples, unpackSamples } from "@/core/trace/pack";
import { deleteToldMoments, momentsOfRun } from "./moments";
import type { Store } from "./store";
import { BRIEF_VERSION, measurements, runs, steps, traces, type StoredBrief } from "./schema";

export type RunRow = typeof runs.$inferSelect;

export function runsOfMeasurements(store: Store, ids: readonly string[]): RunRow[] {
  return store
    .select()
    .from(runs)
    .where(inArray(runs.measurementId, [...ids]))
    .orderBy(asc(runs.repeat))
    .all();
}

/** Takes out of a measurement's runs what is told anew; what the tester noted and corrected stays. */
export function emptyRunsOf(store: Store, measurementId: string): void {
  for (const { id } of runsOfMeasurements(store, [measurementId])) {
    store.delete(traces).where(eq(traces.runId, id)).run();
    store.delete(steps).where(eq(steps.runId, id)).run();
    deleteToldMoments(store, id);
    store.update(runs).set({ result: null, brief: null, errors: [] }).where(eq(runs.id, id)).run();
  }
}

/** A run in brief, and the measurement that it is of. */
export interface BriefRunRow extends BriefRun {
  measurementId: string;
}

/** All runs of a study in brief. */
export const briefRunsOfStudy = (store: Store, studyId: string): BriefRunRow[] =>
  briefRuns(store, sql`${measurements.studyId} = ${studyId}`);

/** The runs of some measurements in brief. */
export const briefRunsOfMeasurements = (store: Store, ids: readonly string[]): BriefRunRow[] =>
  briefRuns(store, inArray(measurements.id, [...ids]));

function briefRuns(store: Store, which: SQL): BriefRunRow[] {
  // As text: what is empty is not parsed ten thousand times. The index has each measurement's in order.
  const found = store.all<Record<keyof BriefRunRow, string | null>>(sql`
    select ${runs.id} as id, ${runs.measurementId} as measurementId, ${runs.repeat} as repeat,
      ${runs.status} as status, ${runs.brief} as result, ${runs.errors} as errors,
      ${runs.corrections} as corrections, ${runs.leftOut} as leftOut
    from ${runs} join ${measurements} on ${runs.measurementId} = ${measurements.id}
    where ${which} and ${measurements.removedAt} is null`);
  const list = <T>(text: string | null): T[] => (!text || text === "[]" ? [] : JSON.parse(text));
  return found.map((row) => ({
    id: row.id!,
    measurementId: row.measurementId!,
    repeat: Number(row.repeat),
    status: row.status as RunStatus,
    leftOut: row.leftOut,
    result: row.result === null ? null : figuresOf(JSON.parse(row.result) as StoredBrief),
    errors: list<ErrorCount>(row.errors),
    corrections: list<Correction>(row.corrections),
  }));
}

const figuresOf = ({ version: _, ...figures }: StoredBrief): BriefResult => figures;

/** A run, and the study that it belongs to. */
export function findRun(store: Store, id: string): { studyId: string; run: RunRow } | null {
  const [found] = store
    .select({ studyId: measurements.studyId, run: runs })
    .from(runs)
    .innerJoin(measurements, eq(runs.measurementId, measurements.id))
    .where(and(eq(runs.id, id), isNull(measurements.removedAt)))
    .all();
  return found ?? null;
}

export function setCorrections(store: Store, runId: string, corrections: Correction[]): void {
  store.update(runs).set({ corrections }).where(eq(runs.id, runId)).run();
}

export function setLeftOut(store: Store, runId: string, leftOut: string | null): void {
  store.update(runs).set({ leftOut }).where(eq(runs.id, runId)).run();
}

export function setPhotos(store: Store, runId: string, photos: PhotoRef[]): void {
  store.update(runs).set({ photos }).where(eq(runs.id, runId)).run();
}

/** A run's trace, in order of time. */
export const samplesOfRun = (store: Store, runId: string): Sample[] =>
  store
    .select({ packed: traces.packed })
    .from(traces)
    .where(eq(traces.runId, runId))
    .orderBy(asc(traces.seq))
    .all()
    .flatMap(({ packed }) => unpackSamples(packed));

/** What the steps of a run gave, as far as they came to their end. */
export const stepsOfRun = (store: Store, runId: string): StepResult[] =>
  store
    .select()
    .from(steps)
    .where(eq(steps.runId, runId))
    .orderBy(asc(steps.step))
    .all()
    .map(({ result }) => result);

/** Begins a run, or one that is there and is told anew. */
export function insertRun(store: Store, row: typeof runs.$inferInsert): void {
  const { status, startedAt } = row;
  store
    .insert(runs)
    .values(row)
    .onConflictDoUpdate({ target: runs.id, set: { status, startedAt, endedAt: null } })
    .run();
}

/** Adds a stretch to a run's trace. @param seq counts the stretches, from 0 */
export function insertTrace(
  store: Store,
  runId: string,
  seq: number,
  trace: readonly Sample[],
): void {
  if (trace.length === 0) return;
  insertPacked(store, runId, seq, packSamples(trace));
}

/** Adds a stretch that is packed already. */
export const insertPacked = (
  store: Store,
  runId: string,
  seq: number,
  packed: Uint8Array,
): void => {
  store
    .insert(traces)
    .values({ runId, seq, packed: Buffer.from(packed) })
    .run();
};

export function insertStep(store: Store, runId: string, step: number, result: StepResult): void {
  store.insert(steps).values({ runId, step, result }).run();
}

/** Rows of one statement: three values each stay far below SQLite's 32 766 (SQLITE_MAX_VARIABLE_NUMBER). */
const ROWS_AT_ONCE = 500;

/** Adds all steps of a run that has none yet. */
export function insertAllSteps(store: Store, runId: string, results: readonly StepResult[]): void {
  const rows = results.map((result, step) => ({ runId, step, result }));
  for (let i = 0; i < rows.length; i += ROWS_AT_ONCE)
    store
      .insert(steps)
      .values(rows.slice(i, i + ROWS_AT_ONCE))
      .run();
}

export function finishRun(
  store: Store,
  id: string,
  result: RunResult,
  errors: ErrorCount[],
  at: string,
): void {
  const kept = { ...result, ...keptOf(momentsOfRun(store, id).readings) };
  store
    .update(runs)
    .set({
      status: "done",
      result: kept,
      brief: { version: BRIEF_VERSION, ...briefOf(kept) },
      errors,
      endedAt: at,
    })
    .where(eq(runs.id, id))
    .run();
}

/**
 * Where the latest run of one of these drills on a drive fell for the first time, bytes; null where
 * there is none, or none that fell. Simulated runs tell nothing of a drive.
 */
export function latestEdge(
  store: Store,
  driveId: string,
  drills: readonly string[],
): number | null {
  const [found] = store.all<{ edge: number | null }>(sql`
    select ${steps.result} ->> 'edgeBytes' as edge
    from ${steps} join ${runs} on ${steps.runId} = ${runs.id}
      join ${measurements} on ${runs.measurementId} = ${measurements.id}
    where ${measurements.rig} ->> '$.parts[#-1].id' = ${driveId}
      and ${measurements.drill} ->> 'name' in ${[...drills]}
      and ${measurements.origin} <> 'simulated' and ${runs.status} = 'done'
      and ${measurements.removedAt} is null
    order by ${runs.startedAt} desc limit 1`);
  return found?.edge ?? null;
}

/**
 * The latest run that wrote to a drive, through whichever rig: how much, and how long ago it ended.
 *
 * @returns null where there is none
 */
export function lastWriteTo(
  store: Store,
  driveId: string,
  now = Date.now(),
): { bytes: number; secondsAgo: number } | null {
  const [found] = store.all<{ bytes: number | null; ended: string }>(sql`
    select ${runs.result} ->> 'bytes' as bytes, ${runs.endedAt} as ended
    from ${runs} join ${measurements} on ${runs.measurementId} = ${measurements.id}
    where ${measurements.rig} ->> '$.parts[#-1].id' = ${driveId}
      and ${measurements.drill} ->> 'direction' <> 'read' and ${runs.endedAt} is not null
      and ${measurements.origin} in ('measured', 'watched')
    order by ${runs.endedAt} desc limit 1`);
  if (!found?.bytes) return null;
  return { bytes: found.bytes, secondsAgo: (now - Date.parse(found.ended)) / 1000 };
}

/** Ended runs of a study's measurements that have ended, with when they began and what the tester did to them. */
export const endedRunsOfStudy = (
  store: Store,
  studyId: string,
): Pick<RunRow, "id" | "measurementId" | "startedAt" | "leftOut" | "corrections">[] =>
  store
    .select({
      id: runs.id,
      measurementId: runs.measurementId,
      startedAt: runs.startedAt,
      leftOut: runs.leftOut,
      corrections: runs.corrections,
    })
    .from(runs)
    .innerJoin(measurements, eq(runs.measurementId, measurements.id))
    .where(
      and(
        eq(measurements.studyId, studyId),
        isNull(measurements.removedAt),
        inArray(measurements.status, [...ENDED]),
      ),
    )
    .orderBy(asc(measurements.createdAt), asc(runs.repeat))
    .all();
