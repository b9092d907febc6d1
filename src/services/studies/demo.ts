import { isDeepStrictEqual } from "node:util";
import { DEMO_SEED, DEMO_STUDIES } from "@demo/demo";
import { DEMO_PARTS } from "@demo/shelf";
import type { DemoStudy } from "@demo/study";
import { DEMO_TRUTH } from "@demo/truth";
import { rowOf } from "@/core/exchange/runs-file";
import { StudyFile, studyOf, type StudyFileInput } from "@/core/exchange/study-file";
import { simulatedDrill, simulateRepeats } from "@/core/simulate/measure";
import { RigDraft } from "@/core/chain/rig";
import { Simulation } from "@/core/simulate/model";
import { hash } from "@/core/simulate/noise";
import { simulatedConditions } from "@/core/simulate/run";
import type { Store } from "@/store/database";
import { countParts, deleteParts, demoParts } from "@/store/parts";
import { getReportChoice } from "@/store/reports";
import { measurementsOfStudy } from "@/store/measurements";
import { briefRunsOfStudy } from "@/store/runs";
import { deleteStudy, extrasOf, listStudies, rigsOfStudy, usedParts } from "@/store/studies";
import packageJson from "../../../package.json";
import { sampleRecording } from "../recordings/samples";
import { insertStudyFile } from "./study-file";
import { openStudy, type OpenStudy } from "./studies";

/** When the demo's runs are said to have been made; any fixed time will do. */
const DEMO_TIME = Date.UTC(2026, 0, 12, 9, 0, 0);

/** Seeds the demo into a new database. @returns false when the database already holds something */
export function seedDemo(store: Store): boolean {
  if (listStudies(store).length > 0 || countParts(store) > 0) return false;
  putDemo(store);
  return true;
}

/**
 * Puts the demo's studies there that are missing. Their runs come from the simulated bench and go the
 * way every run goes: samples into the trace, figures from the samples.
 */
export function putDemo(store: Store): void {
  const there = new Set(listStudies(store).map(({ id }) => id));
  store.transaction(() => {
    // The latest comes first on the first page.
    for (const study of DEMO_STUDIES.toReversed()) {
      if (there.has(study.id)) continue;
      insertStudyFile(store, demoFile(study), { id: study.id, demo: true });
    }
  });
}

/**
 * Takes the demo's studies and parts away. A study in which the tester has measured or put rigs of
 * their own stays, with its parts.
 *
 * @returns titles of those that stay
 */
export function removeDemo(store: Store): string[] {
  return store.transaction(() => {
    const stay: string[] = [];
    for (const { id, title, simulated } of listStudies(store)) {
      if (!simulated) continue;
      if (hasOwn(store, id)) stay.push(title);
      else deleteStudy(store, id);
    }
    const used = new Set(usedParts(store));
    deleteParts(
      store,
      demoParts(store).filter((id) => !used.has(id)),
    );
    return stay;
  });
}

/** Whether a study of the demo holds anything that the demo did not bring: runs, rigs, words, corrections. */
function hasOwn(store: Store, studyId: string): boolean {
  const brought = DEMO_STUDIES.find(({ id }) => id === studyId);
  if (!brought) return true;
  const file = demoHead(brought);
  const { study } = openStudy(store, studyId);
  const given = new Map(file.rigs.map((rig) => [rig.id, RigDraft.parse(rig)]));
  return (
    measurementsOfStudy(store, studyId).some(({ origin }) => origin !== "simulated") ||
    rigsOfStudy(store, studyId).some(
      (rig) => !isDeepStrictEqual(RigDraft.parse(rig), given.get(rig.id)),
    ) ||
    extrasOf(store, studyId).notes !== file.notes ||
    !isDeepStrictEqual(study.demands, file.demands) ||
    study.references.length > 0 ||
    study.suites.length > 0 ||
    study.tolerance !== file.tolerance ||
    getReportChoice(store, studyId) !== null ||
    briefRunsOfStudy(store, studyId).some(
      ({ corrections, leftOut }) => corrections.length > 0 || leftOut !== null,
    )
  );
}

/** The sample studies that are there. */
export const sampleStudies = (store: Store): OpenStudy[] =>
  listStudies(store).flatMap(({ id, simulated }) => (simulated ? openStudy(store, id) : []));

/** Whether the demo is there. */
export const hasDemo = (store: Store): boolean =>
  listStudies(store).some(({ simulated }) => simulated);

/** A study of the demo as a file, without its runs. */
const demoHead = (study: DemoStudy): StudyFile => StudyFile.parse(demoInput(study));

function demoInput({ title, notes, demands = [], rigs, faults = {} }: DemoStudy): StudyFileInput {
  const used = new Set(
    rigs.flatMap((rig) => [...rig.partIds, ...(rig.besideIds ?? []), ...(rig.otherIds ?? [])]),
  );
  return {
    format: "nerrit-study",
    version: 1,
    title,
    notes,
    demands,
    rigs,
    parts: Object.entries(DEMO_PARTS).flatMap(([partId, part]) =>
      used.has(partId) ? [{ ...part, id: partId }] : [],
    ),
    simulation: {
      bench: {},
      parts: Object.fromEntries(Object.entries(DEMO_TRUTH).filter(([partId]) => used.has(partId))),
      faults,
    },
  };
}

/** A study of the demo as a file, its runs just made on the simulated bench. */
export function demoFile(of: DemoStudy) {
  const { id, runs } = of;
  const head = demoInput(of);
  const study = studyOf(StudyFile.parse(head));
  let minute = DEMO_STUDIES.findIndex((one) => one.id === id) * 24 * 60;
  const next = () => new Date(DEMO_TIME + 60_000 * minute++).toISOString();
  const simulated = runs.flatMap(({ rigs: rigIds, drill: { directions, ...set }, ...special }) =>
    rigIds.flatMap((rigId) =>
      directions.map((direction) => {
        const rig = study.rigs.find((one) => one.id === rigId)!;
        const { recording, filled } = special;
        const sample = recording === undefined ? null : sampleRecording(recording);
        const simulation = filledTo(study.simulationOf(rigId), rig.parts.at(-1)!.id, filled);
        const works = sample ? { recordings: [sample.work] } : {};
        const drill = simulatedDrill({ ...set, ...works, direction }, rig, simulation);
        const named = [
          rigId,
          ...(drill.name === "haul" ? [] : [drill.name]),
          direction,
          ...(recording === undefined ? [] : [recording.slice(-1)]),
          ...(filled === undefined ? [] : [`${Math.round(filled * 100)}`]),
        ].join("-");
        const seed = hash(`${DEMO_SEED} ${named}`);
        const createdAt = next();
        const made = simulateRepeats(
          rig,
          drill,
          simulation,
          { seed },
          () => sample?.recording ?? null,
        );
        return {
          id: named,
          rigId,
          drill,
          origin: "simulated" as const,
          createdAt,
          targets: ["simulated rig"],
          conditions: simulatedConditions(rig, simulation, createdAt, packageJson.version),
          runs: made.map((run) => ({
            status: "done" as const,
            startedAt: next(),
            steps: run.steps,
            samples: run.samples.map(rowOf),
            events: run.events,
            readings: run.readings,
            errors: run.errors,
          })),
        };
      }),
    ),
  );
  return StudyFile.parse({ ...head, runs: simulated });
}

/** A simulation whose drive is as full as is said; as it is where nothing is. */
const filledTo = (simulation: Simulation, drive: string, filled: number | undefined): Simulation =>
  filled === undefined
    ? simulation
    : Simulation.parse({
        ...simulation,
        parts: { ...simulation.parts, [drive]: { ...simulation.parts[drive], filled } },
      });
