import { DEMO_PARTS, DEMO_RIGS, DEMO_SEED, DEMO_STUDY } from "@demo/first-study";
import { PartDraft } from "@/core/chain/part";
import { RigDraft, type Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import type { Conditions } from "@/core/drills/result";
import { usualDrill } from "@/core/drills/shape";
import { resultFrom } from "@/core/drills/summary";
import { simulateRig } from "@/core/simulate/rig";
import type { Store } from "@/store/database";
import { insertPart, listParts } from "@/store/parts";
import {
  endMeasurement,
  finishRun,
  insertMeasurement,
  insertRun,
  insertTrace,
  setConditions,
} from "@/store/runs";
import { insertRig, insertStudy, listStudies } from "@/store/studies";
import { rigOf } from "./studies";
import packageJson from "../../package.json";

/** When the demo's runs are said to have been made; any fixed time will do. */
const DEMO_TIME = Date.UTC(2026, 0, 12, 9, 0, 0);

/**
 * Seeds the demo study into a new database. Its runs come from the simulated rig and go the way
 * every run goes: samples into the trace, the result from the samples.
 *
 * @returns false when the database already holds something
 */
export function seedDemo(store: Store): boolean {
  if (listStudies(store).length > 0 || listParts(store).length > 0) return false;
  store.transaction(() => {
    const parts = Object.fromEntries(
      Object.entries(DEMO_PARTS).map(([id, part]) => [id, PartDraft.parse(part)]),
    );
    let minute = 0;
    const next = () => new Date(DEMO_TIME + 60_000 * minute++).toISOString();
    for (const [id, draft] of Object.entries(parts)) insertPart(store, id, draft, next());
    insertStudy(store, DEMO_STUDY.id, withoutId(DEMO_STUDY), next(), true);
    for (const { id, ...input } of DEMO_RIGS) {
      const draft = RigDraft.parse(input);
      insertRig(store, DEMO_STUDY.id, id, draft, next());
      const rig = rigOf(id, draft, (partId) => ({ ...parts[partId]!, id: partId }));
      for (const direction of ["read", "write"] as const) {
        simulateMeasurement(store, rig, usualDrill("haul", direction), DEMO_SEED + minute, next);
      }
    }
  });
  return true;
}

function withoutId<T extends { id: string }>({ id: _id, ...rest }: T): Omit<T, "id"> {
  return rest;
}

function simulateMeasurement(
  store: Store,
  rig: Rig,
  drill: Drill,
  seed: number,
  next: () => string,
): void {
  const id = `${rig.id}-${drill.direction}`;
  insertMeasurement(store, {
    id,
    studyId: DEMO_STUDY.id,
    rigId: rig.id,
    drill,
    target: "simulated rig",
    status: "running",
    rig,
    createdAt: next(),
  });
  setConditions(store, id, simulatedConditions(rig, next()));
  for (let repeat = 0; repeat < drill.repeats; repeat++) {
    const runId = `${id}-${repeat}`;
    const run = simulateRig(rig, drill, seed + 97 * repeat);
    insertRun(store, {
      id: runId,
      measurementId: id,
      repeat,
      status: "running",
      startedAt: next(),
    });
    insertTrace(store, runId, 0, run.samples);
    finishRun(store, runId, resultFrom(drill, [run.step]), [], next());
  }
  endMeasurement(store, id, "done", null, next());
}

function simulatedConditions(rig: Rig, startedAt: string): Conditions {
  return {
    startedAt,
    nerrit: packageJson.version,
    host: "simulated",
    kernel: "simulated",
    processor: "simulated",
    cores: 1,
    loadAtStart: 0,
    target: "simulated rig",
    targetKind: "directory",
    fileSystem: rig.fileSystem,
    mountOptions: null,
    device: null,
    deviceBytes: null,
    freeBytes: null,
    scheduler: null,
    rotational: false,
    writeCache: null,
    requestLimitBytes: null,
    io: "direct",
    lane: "portable",
    simulated: true,
    notes: [],
  };
}
