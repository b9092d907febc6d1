import { and, asc, eq, isNotNull, or, sql } from "drizzle-orm";
import { keptOf } from "@/core/reading/kept";
import { briefOf } from "@/core/run/brief";
import { NOTED } from "@/core/run/note";
import type { Reading, RunEvent } from "@/core/run/result";
import { BRIEF_VERSION, moments, runs } from "./schema";
import type { Store } from "./store";

/** What happened during a run, and what the system showed meanwhile. */
export function momentsOfRun(
  store: Store,
  runId: string,
): { events: RunEvent[]; readings: Reading[] } {
  const rows = store
    .select()
    .from(moments)
    .where(eq(moments.runId, runId))
    .orderBy(asc(moments.id))
    .all();
  return ofMoments(rows);
}

/**
 * What happened during a run, and of what the system showed meanwhile so much as a picture can show.
 *
 * @param most readings
 */
export function someMomentsOfRun(
  store: Store,
  runId: string,
  most: number,
): { events: RunEvent[]; readings: Reading[] } {
  const [{ n }] = store.all<{ n: number }>(
    sql`select count(*) as n from ${moments} where ${moments.runId} = ${runId}`,
  ) as [{ n: number }];
  if (n <= most) return momentsOfRun(store, runId);
  const step = Math.ceil(n / most);
  const rows = store
    .select()
    .from(moments)
    .where(
      and(eq(moments.runId, runId), or(isNotNull(moments.event), sql`${moments.id} % ${step} = 0`)),
    )
    .orderBy(asc(moments.id))
    .all();
  return ofMoments(rows);
}

/** What stands in moments, in the order of time: notes and logs are kept later than they happened. */
const ofMoments = (rows: readonly Pick<typeof moments.$inferSelect, "event" | "reading">[]) => ({
  events: rows.flatMap(({ event }) => event ?? []).sort((a, b) => a.ms - b.ms),
  readings: rows.flatMap(({ reading }) => reading ?? []).sort((a, b) => a.ms - b.ms),
});

export function insertEvent(store: Store, runId: string, event: RunEvent): void {
  store.insert(moments).values({ runId, event }).run();
}

export function insertReading(store: Store, runId: string, reading: Reading): void {
  store.insert(moments).values({ runId, reading }).run();
}

/** Takes out what the measuring process told of a run; what the tester noted and a far host told stays. */
export function deleteToldMoments(store: Store, runId: string): void {
  const rows = store.select().from(moments).where(eq(moments.runId, runId)).all();
  for (const { id, event, reading } of rows)
    if (event?.from !== NOTED && !reading?.far && !Object.hasOwn(reading?.celsius ?? {}, NOTED))
      store.delete(moments).where(eq(moments.id, id)).run();
}

/**
 * Exchanges the temperatures of a run that came from a log for others, and what its result keeps of them.
 *
 * @param isOld whether a temperature, by what it is called, is one of those that go
 */
export function exchangeWarmth(
  store: Store,
  runId: string,
  isOld: (what: string) => boolean,
  readings: readonly Reading[],
): void {
  store.transaction(() => {
    const rows = store.select().from(moments).where(eq(moments.runId, runId)).all();
    const old = rows.filter(({ reading }) => Object.keys(reading?.celsius ?? {}).some(isOld));
    for (const { id } of old) store.delete(moments).where(eq(moments.id, id)).run();
    for (const reading of readings) insertReading(store, runId, reading);
    const [run] = store.select().from(runs).where(eq(runs.id, runId)).all();
    if (!run?.result) return;
    const { startCelsius: _start, hottestCelsius: _hottest, ...rest } = run.result;
    const result = { ...rest, ...keptOf(momentsOfRun(store, runId).readings) };
    const brief = { version: BRIEF_VERSION, ...briefOf(result) } as const;
    store.update(runs).set({ result, brief }).where(eq(runs.id, runId)).run();
  });
}
