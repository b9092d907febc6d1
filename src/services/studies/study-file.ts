import { randomUUID } from "node:crypto";
import { PartDraft } from "@/core/chain/part";
import type { Rig, RigDraft } from "@/core/chain/rig";
import { measurementOf, type StudyFile, type StudySimulation } from "@/core/exchange/study-file";
import { repeatsOf } from "@/core/exchange/study-run";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import type { Store } from "@/store/database";
import { putMachineCheck } from "@/store/machine-checks";
import { putNetwork } from "@/store/networks";
import * as partRows from "@/store/parts";
import * as reportRows from "@/store/reports";
import { suitesWith } from "@/core/study/suite";
import * as studyRows from "@/store/studies";
import { readStudyFile } from "./read-study-file";
import { insertSteps } from "../elsewhere/runs-file";
import { keepPhoto } from "../shelf/photo";
import { rigOf } from "./studies";

/**
 * Takes a study in, whole or not at all. Parts that are on the shelf already, unchanged and under the
 * same identifier, are not put there twice.
 *
 * @returns its identifier, and how many parts are new on the shelf
 */
export function takeInStudy(store: Store, bytes: Uint8Array): { id: string; newParts: number } {
  const file = readStudyFile(bytes);
  return store.transaction(() => insertStudyFile(store, file, { id: randomUUID(), demo: false }));
}

/** What a file brought with it: the study's identifier, and the parts that are new on the shelf. */
export interface TakenStudy {
  id: string;
  newParts: number;
}

/** Keeps a file's pictures under the identifiers that follow from what they hold; what shows one that is not there goes without. */
function withPhotosKept(store: Store, file: StudyFile): StudyFile {
  const ids = new Map(
    (file.photos ?? []).map(({ id, data }) => [
      id,
      keepPhoto(store, Buffer.from(data, "base64")).id,
    ]),
  );
  const known = <T extends { photos?: { id: string }[] }>(item: T): T =>
    item.photos
      ? {
          ...item,
          photos: item.photos.flatMap((photo) => {
            const id = ids.get(photo.id);
            return id ? [{ ...photo, id }] : [];
          }),
        }
      : item;
  return {
    ...file,
    parts: file.parts.map(known),
    rigs: file.rigs.map(known),
    runs: file.runs.map((run) => (run.runs ? { ...run, runs: run.runs.map(known) } : run)),
    ...(file.report && { report: known(file.report) }),
  };
}

/** Stores what a file holds. @param demo whether it is sample data, kept apart from the tester's own */
export function insertStudyFile(
  store: Store,
  file: StudyFile,
  as: { id: string; demo: boolean },
): TakenStudy {
  const steps = insertStudySteps(store, file, as);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/** The same in steps, each of which takes a moment. */
export function* insertStudySteps(
  store: Store,
  given: StudyFile,
  { id, demo }: { id: string; demo: boolean },
): Generator<void, TakenStudy> {
  const at = new Date().toISOString();
  const file = withPhotosKept(store, given);
  const { partIds, newParts } = shelve(store, file.parts, at, demo);
  const { title, tolerance, smallestEffect, demands, references, suites, notes } = file;
  const rigIds = new Map(file.rigs.map((rig) => [rig.id, demo ? rig.id : randomUUID()]));
  const { simulation } = file;
  studyRows.insertStudy(store, id, { title, tolerance, smallestEffect }, at, demo);
  if (file.tags) studyRows.updateLabels(store, id, { title, tags: file.tags });
  studyRows.updateDemands(store, id, demands);
  studyRows.updateReferences(store, id, references);
  studyRows.updateSuites(
    store,
    id,
    suitesWith(suites, (rig) => rigIds.get(rig)),
  );
  studyRows.updateExtras(store, id, {
    notes,
    simulation: simulation && simulationWith(simulation, partIds, rigIds),
  });
  for (const check of file.checks ?? []) putMachineCheck(store, check);
  for (const network of file.networks ?? []) putNetwork(store, network);
  if (file.report) reportRows.putReportChoice(store, id, file.report);
  const there = partRows.getParts(store, [...partIds.values()]);
  const mine = (ids: readonly string[]) => ids.map((one) => partIds.get(one)!);
  const rigs = new Map<string, Rig>();
  for (const { id: named, out, ...rig } of file.rigs) {
    const rigId = rigIds.get(named)!;
    const elsewhere = <T extends { partId: string }>(list: readonly T[]) =>
      list.map((one) => ({ ...one, partId: partIds.get(one.partId) ?? one.partId }));
    const draft: RigDraft = {
      ...rig,
      partIds: mine(rig.partIds),
      besideIds: mine(rig.besideIds),
      otherIds: mine(rig.otherIds),
      settled: elsewhere(rig.settled),
      held: elsewhere(rig.held),
    };
    studyRows.insertRig(store, id, rigId, draft, at);
    if (out) studyRows.removeRig(store, rigId);
    rigs.set(
      named,
      rigOf(rigId, draft, (part) => there.get(part)),
    );
  }
  yield;
  for (const [i, run] of file.runs.entries()) {
    const rig = rigs.get(run.rigId)!;
    const { rig: then, ...kept } = measurementOf(run, (demo && run.id) || randomUUID(), rig);
    // Runs that do not say when they were made keep their order by the instant they came in.
    const createdAt = run.createdAt ?? new Date(Date.parse(at) + i).toISOString();
    const stood = run.rigThen ? { ...then, ...withParts(then, partIds) } : rig;
    yield* insertSteps(store, id, stood, {
      ...kept,
      createdAt,
      targets: targetsOf(kept),
      status: run.status,
      runs: repeatsOf({ ...run, createdAt }),
    });
  }
  return { id, newParts };
}

/**
 * Puts a file's parts on the shelf where they are not there yet. A sample part is none of the tester's
 * own, and the sample data's own part is taken as it is now.
 *
 * @returns the identifier on the shelf of each part of the file
 */
function shelve(store: Store, parts: StudyFile["parts"], at: string, demo: boolean) {
  const shelf = partRows.getParts(
    store,
    parts.map((part) => part.id),
  );
  let newParts = 0;
  const plainly = (part: unknown) => JSON.stringify(PartDraft.parse(part));
  const partIds = new Map(
    parts.map(({ id: named, ...draft }) => {
      const there = shelf.get(named);
      if (there && (demo || (!there.demo && plainly(there) === plainly(draft)))) {
        return [named, named];
      }
      const id = demo ? named : randomUUID();
      partRows.insertPart(store, id, draft, at, demo);
      newParts += 1;
      return [named, id];
    }),
  );
  return { partIds, newParts };
}

/** What the simulated bench takes parts for, under the identifiers that they have here. */
const simulationWith = (
  { bench, parts, faults }: StudySimulation,
  partIds: Map<string, string>,
  rigIds: Map<string, string>,
): StudySimulation => ({
  bench,
  parts: renamed(parts, partIds),
  faults: Object.fromEntries(
    Object.entries(renamed(faults, rigIds)).map(([rig, list]) => [
      rig,
      list.map((fault) =>
        "at" in fault ? { ...fault, at: partIds.get(fault.at) ?? fault.at } : fault,
      ),
    ]),
  ),
});

function withParts({ parts, beside, other }: Measurement["rig"], ids: Map<string, string>) {
  const named = (list: Measurement["rig"]["parts"]) =>
    list.map((part) => ({ ...part, id: ids.get(part.id) ?? part.id }));
  return { parts: named(parts), beside: named(beside), other: named(other) };
}

const renamed = <T>(record: Record<string, T>, names: Map<string, string>): Record<string, T> =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [names.get(key) ?? key, value]));
