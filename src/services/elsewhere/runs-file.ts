import { randomUUID } from "node:crypto";
import * as z from "zod";
import { RigDraft, type Rig } from "@/core/chain/rig";
import { ENDED } from "@/core/drills/request";
import { resultFrom } from "@/core/drills/summary";
import { Recorded, recordedRun, runsFile, RunsFile, sampleOf } from "@/core/exchange/runs-file";
import type { FiledRun } from "@/core/exchange/study-run";
import { packSamples } from "@/core/trace/pack";
import { BETWEEN_TARGETS, targetsOf } from "@/core/study/measurement";
import { counted } from "@/core/units/counted";
import type { Store } from "@/store/database";
import * as measurementRows from "@/store/measurements";
import * as moments from "@/store/moments";
import * as rows from "@/store/runs";
import * as studyRows from "@/store/studies";
import { checked, Problem } from "../problem";
import { measurement, openStudy } from "../studies/studies";

export const TakeIn = z.object({
  /** Which rig of the study each rig of the file is, by its name there. */
  rigs: z.record(z.string(), z.string()),
  /** The host of a rig of the study, by the rig's id: noted with a rig that has no host and no runs. */
  hosts: z.record(z.string(), RigDraft.shape.host).default({}),
  file: RunsFile,
});

/** What is asked for when the runs of a file are taken in; their samples may be packed. */
export interface RunsToTakeIn {
  rigs: Record<string, string>;
  hosts: Record<string, string>;
  file: { measurements: (Kept & { rig: string })[] };
}

/**
 * Takes the runs of a file into a study, all of them or none.
 *
 * @returns the identifiers of its measurements
 * @throws Problem that names the first that is wrong, that is here already, or that has no rig
 */
export function takeInRuns(store: Store, studyId: string, input: unknown): string[] {
  const { ids, steps } = runsToTakeIn(store, studyId, checked(TakeIn, input));
  store.transaction(() => {
    for (const _ of steps);
  });
  return ids;
}

/** The runs of a file that are to be taken in, and the steps that do it. @throws Problem as above */
export function runsToTakeIn(
  store: Store,
  studyId: string,
  { rigs, hosts, file }: RunsToTakeIn,
): { ids: string[]; steps: Generator<void, void>; undo: () => void } {
  const study = openStudy(store, studyId);
  const ids = file.measurements.map(({ id }) => id);
  const bare = studyRows
    .rigsById(
      store,
      study.rigs.flatMap(({ id }) => (hosts[id] ? id : [])),
    )
    .filter(({ id, host }) => host === "" && studyRows.measuredIn(store, id) === null);
  const hostOf = (rig: Rig): string =>
    bare.some(({ id }) => id === rig.id) ? hosts[rig.id]! : rig.host;
  const meant = file.measurements.map((recorded) => {
    const rig = study.rigs.find(({ id }) => id === rigs[recorded.rig]);
    if (!rig) throw new Problem(422, `Say which rig of this study "${recorded.rig}" is.`);
    return { recorded, rig };
  });
  const known = file.measurements.filter(({ id }) => measurementRows.getMeasurement(store, id));
  if (known.length > 0) {
    const all =
      known.length === file.measurements.length ? "All" : counted(known.length, "measurement");
    throw new Problem(
      409,
      `${all} of this file ${known.length === 1 ? "was" : "were"} imported before. Nothing was added.`,
    );
  }
  function* steps() {
    measurementRows.sweepMeasurements(store, ids);
    for (const rig of bare)
      studyRows.updateRig(store, rig.id, RigDraft.parse({ ...rig, host: hosts[rig.id] }));
    for (const { recorded, rig } of meant)
      yield* insertSteps(store, studyId, { ...rig, host: hostOf(rig) }, recorded);
  }
  const undo = () => {
    measurementRows.deleteMeasurements(store, ids);
    for (const rig of bare) studyRows.updateRig(store, rig.id, RigDraft.parse(rig));
  };
  return { ids, steps: steps(), undo };
}

/** A run whose samples were packed before: what takes long is done elsewhere (intake/). */
export type PackedRun = Omit<FiledRun, "samples"> & {
  samples: [];
  packed: { stretches: Uint8Array[]; endMs: number };
};

/** What is stored of a measurement that was not made by this server's own engine just now. */
export type Kept = Omit<Recorded, "rig" | "runs"> & { runs: (FiledRun | PackedRun)[] };

/** Samples that are packed together. */
const STRETCH = 1000;

/** Packs the samples of a run, as they are stored. */
export function packed(run: FiledRun | PackedRun): PackedRun {
  if ("packed" in run) return run;
  const { samples, ...rest } = run;
  const stretches: Uint8Array[] = [];
  for (let at = 0; at < samples.length; at += STRETCH)
    stretches.push(packSamples(samples.slice(at, at + STRETCH).map(sampleOf)));
  return { ...rest, samples: [], packed: { stretches, endMs: samples.at(-1)?.[1] ?? 0 } };
}

/** Stores what was recorded elsewhere or watched; figures follow from its steps, as for a run made here. */
export function insertRecorded(store: Store, studyId: string, rig: Rig, recorded: Kept): void {
  for (const _ of insertSteps(store, studyId, rig, recorded));
}

/** The same in steps, each of which takes a moment. */
export function* insertSteps(
  store: Store,
  studyId: string,
  rig: Rig,
  recorded: Kept,
): Generator<void, void> {
  const { id, origin, drill, warmUp, stated, conditions, status, reason, createdAt } = recorded;
  measurementRows.insertMeasurement(store, {
    id,
    studyId,
    rigId: rig.id,
    drill,
    rig,
    origin,
    warmUp,
    stated,
    conditions,
    status: "running",
    createdAt,
    target: recorded.targets.join(BETWEEN_TARGETS),
  });
  let last = Date.parse(createdAt);
  for (const [repeat, given] of recorded.runs.entries()) {
    const run = packed(given);
    const { stretches, endMs } = run.packed;
    const runId = `${id}-${repeat}`;
    rows.insertRun(store, {
      id: runId,
      measurementId: id,
      repeat,
      startedAt: run.startedAt,
      status: run.status === "done" ? "running" : run.status,
      corrections: run.corrections ?? [],
      leftOut: run.leftOut ?? null,
      photos: run.photos ?? [],
    });
    for (const [seq, stretch] of stretches.entries()) {
      rows.insertPacked(store, runId, seq, stretch);
      yield;
    }
    rows.insertAllSteps(store, runId, run.steps);
    for (const event of run.events) {
      moments.insertEvent(store, runId, event);
      yield;
    }
    for (const reading of run.readings) {
      moments.insertReading(store, runId, reading);
      yield;
    }
    const ended = Date.parse(run.startedAt) + endMs;
    last = Math.max(last, ended);
    if (run.status === "done")
      rows.finishRun(
        store,
        runId,
        resultFrom(drill, run.steps),
        run.errors,
        new Date(ended).toISOString(),
      );
    yield;
  }
  measurementRows.endMeasurement(store, id, status, reason, new Date(last).toISOString());
}

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
    rig: rig.name,
    origin,
    drill,
    reason,
    createdAt,
    warmUp,
    stated,
    conditions,
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
