import { randomUUID } from "node:crypto";
import * as z from "zod";
import type { Rig } from "@/core/chain/rig";
import { ENDED } from "@/core/drills/request";
import { resultFrom } from "@/core/drills/summary";
import { Recorded, recordedRun, runsFile, RunsFile, sampleOf } from "@/core/exchange/runs-file";
import { BETWEEN_TARGETS, targetsOf } from "@/core/study/measurement";
import { counted } from "@/core/units/counted";
import type { Store } from "@/store/database";
import * as rows from "@/store/runs";
import { checked, Problem } from "./problem";
import { measurement, openStudy } from "./studies";

const TakeIn = z.object({
  /** Which rig of the study each rig of the file is, by its name there. */
  rigs: z.record(z.string(), z.string()),
  file: RunsFile,
});

/**
 * Takes the runs of a file into a study, all of them or none.
 *
 * @returns the identifiers of its measurements
 * @throws Problem that names the first that is wrong, that is here already, or that has no rig
 */
export function takeInRuns(store: Store, studyId: string, input: unknown): string[] {
  const { rigs, file } = checked(TakeIn, input);
  const study = openStudy(store, studyId);
  const meant = file.measurements.map((recorded) => {
    const rig = study.rigs.find(({ id }) => id === rigs[recorded.rig]);
    if (!rig) throw new Problem(422, `Say which rig of this study "${recorded.rig}" is.`);
    return { recorded, rig };
  });
  const known = file.measurements.filter(({ id }) => rows.getMeasurement(store, id));
  if (known.length > 0) {
    const all =
      known.length === file.measurements.length ? "All" : counted(known.length, "measurement");
    throw new Problem(
      409,
      `${all} of this file ${known.length === 1 ? "was" : "were"} taken in before. Nothing was added.`,
    );
  }
  store.transaction(() => {
    for (const { recorded, rig } of meant) insertRecorded(store, studyId, rig, recorded);
  });
  return file.measurements.map(({ id }) => id);
}

/** What is stored of a measurement that was not made by this server's own engine just now. */
export type Kept = Omit<Recorded, "rig">;

/** Stores what was recorded elsewhere or watched; figures follow from its steps, as for a run made here. */
export function insertRecorded(store: Store, studyId: string, rig: Rig, recorded: Kept): void {
  const { id, origin, drill, warmUp, stated, conditions, status, reason, createdAt } = recorded;
  rows.insertMeasurement(store, {
    ...{ id, studyId, rigId: rig.id, drill, rig, origin, warmUp, stated, conditions },
    ...{ status: "running", createdAt },
    target: recorded.targets.join(BETWEEN_TARGETS),
  });
  recorded.runs.forEach((run, repeat) => {
    const runId = `${id}-${repeat}`;
    rows.insertRun(store, {
      ...{ id: runId, measurementId: id, repeat, startedAt: run.startedAt },
      status: run.status === "done" ? "running" : run.status,
      ...{ corrections: run.corrections ?? [], leftOut: run.leftOut ?? null },
    });
    for (let at = 0; at < run.samples.length; at += STRETCH) {
      const samples = run.samples.slice(at, at + STRETCH).map(sampleOf);
      rows.insertTrace(store, runId, at / STRETCH, samples);
    }
    run.steps.forEach((step, i) => rows.insertStep(store, runId, i, step));
    for (const event of run.events) rows.insertEvent(store, runId, event);
    for (const reading of run.readings) rows.insertReading(store, runId, reading);
    if (run.status !== "done") return;
    const ended = new Date(Date.parse(run.startedAt) + (run.samples.at(-1)?.[1] ?? 0));
    rows.finishRun(store, runId, resultFrom(drill, run.steps), run.errors, ended.toISOString());
  });
  rows.endMeasurement(store, id, status, reason, lastEnd(recorded));
}

/** Samples that are packed together. */
const STRETCH = 1000;

const lastEnd = ({ runs, createdAt }: Kept): string => {
  const ends = runs.map(
    ({ startedAt, samples }) => Date.parse(startedAt) + (samples.at(-1)?.[1] ?? 0),
  );
  return new Date(Math.max(Date.parse(createdAt), ...ends)).toISOString();
};

/** A measurement as a file of runs holds it. @throws Problem 404, or where it is still under way */
export function recordedFrom(store: Store, id: string): Recorded {
  const found = measurement(store, id);
  const { rig, origin, drill, status, reason, createdAt, warmUp, stated, conditions } = found;
  if (!ENDED.includes(status)) {
    throw new Problem(409, "It is still being measured: save it when it is over.");
  }
  const startedAt = new Map(
    rows.runsOfMeasurements(store, [id]).map((run) => [run.id, run.startedAt]),
  );
  return {
    ...{ rig: rig.name, origin, drill, reason, createdAt, warmUp, stated, conditions },
    // One that was made up for the demo has none of its own.
    id: z.uuid().safeParse(id).success ? id : randomUUID(),
    targets: targetsOf(found),
    status: checked(Recorded.shape.status, status),
    runs: found.runs.map((run) => recordedRun(run, startedAt.get(run.id)!)),
  };
}

/** A measurement as a file, as `nerrit measure --out` writes it. @throws Problem 404 */
export const measurementFile = (store: Store, id: string): string =>
  runsFile([recordedFrom(store, id)]);
