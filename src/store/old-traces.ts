import { asc, eq, sql } from "drizzle-orm";
import { plainSample } from "@/core/run/step";
import type { Store } from "./store";
import { insertTrace } from "./runs";
import { measurements, runs, samples } from "./schema";

/** Packs traces that an older version kept a row a sample, all of them or none. */
export function packOldTraces(store: Store): void {
  // A database that is only half way through its migrations, as tests lay it down, has no traces yet.
  const { n } = store.$client
    .prepare("select count(*) as n from sqlite_master where name = 'traces'")
    .get() as { n: number };
  if (n === 0) return;
  store.transaction(() => {
    const old = store.selectDistinct({ id: samples.runId }).from(samples).all();
    for (const { id } of old) {
      const rows = store
        .select()
        .from(samples)
        .where(eq(samples.runId, id))
        .orderBy(asc(samples.ms))
        .all();
      const direction = store
        .select({ way: sql<string>`${measurements.drill} ->> 'direction'` })
        .from(runs)
        .innerJoin(measurements, eq(measurements.id, runs.measurementId))
        .where(eq(runs.id, id))
        .get();
      let from = 0;
      const trace = rows.map(({ ms, bytes }) => {
        const sample = plainSample(from, ms, bytes, direction?.way === "write");
        from = ms;
        return sample;
      });
      insertTrace(store, id, 0, trace);
      store.delete(samples).where(eq(samples.runId, id)).run();
    }
  });
}
