import type { DuckDBConnection } from "@duckdb/node-api";
import { studyFileOf, type RunRows, type StudyRows } from "@/core/archive/study-of";
import type { Rig } from "@/core/chain/rig";
import { ArchiveProblem } from "./archive-problem";
import { declareTables } from "./declare";
import { openDuck, quoted } from "./duck";

type Rows = Record<string, unknown>[];

/**
 * Reads a study back out of archives, with all of its runs.
 *
 * @returns a study's file, to be checked as any other
 * @throws ArchiveProblem where there is no such study in them
 */
export async function readStudyBack(
  archives: readonly string[],
  studyId: string,
): Promise<Record<string, unknown>> {
  const duck = await openDuck();
  try {
    await declareTables(duck.connection, archives);
    return studyFileOf(await rowsOf(duck.connection, studyId));
  } finally {
    duck.close();
  }
}

async function rowsOf(connection: DuckDBConnection, studyId: string): Promise<StudyRows> {
  const all = async (sql: string): Promise<Rows> =>
    (await connection.runAndReadAll(sql)).getRowObjectsJS();
  const [study] = await all(
    `SELECT document_json FROM studies WHERE study_id = ${quoted(studyId)} ORDER BY written_at DESC LIMIT 1`,
  );
  if (!study) throw new ArchiveProblem(`There is no study ${studyId} in the archive.`);
  await connection.run(
    `CREATE TEMP TABLE wanted AS SELECT * FROM runs WHERE study_id = ${quoted(studyId)}`,
  );
  const runs = await all("SELECT * FROM wanted ORDER BY started_at, run_id");
  const of = async (sql: string) => byRun(await all(sql));
  const from = (table: string, order: string) =>
    `SELECT t.* FROM ${table} t JOIN wanted w ON w.run_id = t.run_id ORDER BY t.run_id, ${order}`;
  const [conditions, steps, samples, events, readings, marks] = [
    await of(from("conditions", "t.run_id")),
    await of(from("steps", "t.step")),
    await of(from("samples", "t.sample")),
    await of(from("events", "t.event")),
    await of(from("readings", "t.reading")),
    await of(from("marks", "t.written_at")),
  ];
  const rigs = await all(
    "SELECT DISTINCT g.rig_version, g.document_json FROM rigs g JOIN wanted w ON w.rig_version = g.rig_version",
  );
  return {
    study: parsed(study.document_json) as StudyRows["study"],
    rigs: new Map(
      rigs.map((row) => [String(row.rig_version), parsed(row.document_json) as Rig] as const),
    ),
    runs: runs.map((row) => {
      const id = String(row.run_id);
      const mark = marks.get(id)?.at(-1);
      const document = parsed(row.document_json) as RunRows["document"] &
        Pick<RunRows, "corrections">;
      return {
        measurementId: String(row.measurement_id),
        repeat: Number(row.repeat),
        rigId: String(row.rig_id),
        rigVersion: String(row.rig_version),
        origin: String(row.origin),
        reason: row.reason as string | null,
        warmUp: row.is_warm_up === true,
        status: String(row.status),
        leftOut: (mark ? mark.left_out : row.left_out) as string | null,
        corrections: (mark ? parsed(mark.corrections_json) : document.corrections) as [],
        drill: parsed(row.drill_json),
        document,
        conditions: parsed(conditions.get(id)?.[0]?.document_json ?? "null"),
        steps: (steps.get(id) ?? []).map((step) => parsed(step.document_json)),
        samples: (samples.get(id) ?? []).map(sampleFrom),
        events: (events.get(id) ?? []).map((event) => ({
          ms: event.at_ms,
          kind: event.kind,
          text: event.text,
          from: event.read_from,
        })),
        readings: (readings.get(id) ?? []).map((reading) => ({
          ms: reading.at_ms,
          engine: reading.engine_share,
          machine: reading.machine_share,
          ...(parsed(reading.document_json) as object),
        })),
      };
    }),
  };
}

const parsed = (text: unknown): unknown => JSON.parse(String(text));

const sampleFrom = (row: Record<string, unknown>) => ({
  from: Number(row.from_ms),
  ms: Number(row.until_ms),
  bytes: Number(row.bytes),
  written: Number(row.written_bytes),
  requests: Number(row.requests),
  step: Number(row.step),
  target: Number(row.target),
});

function byRun(rows: Rows): Map<string, Rows> {
  const found = new Map<string, Rows>();
  for (const row of rows) {
    const id = String(row.run_id);
    const alike = found.get(id);
    if (alike) alike.push(row);
    else found.set(id, [row]);
  }
  return found;
}
