import { randomUUID } from "node:crypto";
import { PartDraft } from "@/core/chain/part";
import type { Rig, RigDraft } from "@/core/chain/rig";
import { recordedRun } from "@/core/exchange/runs-file";
import {
  FileProblem,
  MOST_IN_DOCUMENT,
  MOST_IN_FILE,
  packStudy,
} from "@/core/exchange/study-archive";
import { measurementOf, type StudyFile, type StudySimulation } from "@/core/exchange/study-file";
import { repeatsOf } from "@/core/exchange/study-run";
import { ReportChoice } from "@/core/study/report-choice";
import { ENDED } from "@/core/drills/request";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import type { Store } from "@/store/database";
import * as partRows from "@/store/parts";
import * as runRows from "@/store/runs";
import * as reportRows from "@/store/reports";
import * as studyRows from "@/store/studies";
import { formatSize } from "@/core/units/size";
import { Problem } from "../problem";
import { readStudyFile } from "./read-study-file";
import { insertSteps } from "../elsewhere/runs-file";
import { keepPhoto } from "../shelf/photo";
import { tracedMeasurementsOf, openStudy, rigOf } from "./studies";

/** A study as a file, ready to be saved. */
export interface SavedStudy {
  bytes: Uint8Array;
  kind: "json" | "zip";
}

/**
 * Puts everything of a study into a file; with long traces that is an archive.
 *
 * @throws Problem 404, or 413 where no such file could be read again
 */
export function saveStudy(store: Store, studyId: string): SavedStudy {
  const { document, samples } = studyDocument(store, studyId);
  try {
    const saved: SavedStudy =
      samples > MOST_IN_DOCUMENT
        ? { bytes: packStudy(document), kind: "zip" }
        : { bytes: Buffer.from(`${JSON.stringify(document, null, 2)}\n`), kind: "json" };
    if (saved.bytes.length > MOST_IN_FILE)
      throw new FileProblem(
        `The study comes to ${formatSize(saved.bytes.length)}; a file holds ${formatSize(MOST_IN_FILE)} at most. Remove runs with long traces, or save them as files of runs.`,
      );
    return saved;
  } catch (error) {
    if (error instanceof FileProblem) throw new Problem(413, error.message);
    throw error;
  }
}

/** Everything of a study, as its file says it. @throws Problem 404 */
export function studyDocument(store: Store, studyId: string) {
  const { study } = openStudy(store, studyId);
  const measurements = tracedMeasurementsOf(store, studyId);
  const inside = studyRows.rigsOfStudy(store, studyId);
  const out = studyRows
    .rigsById(store, [...new Set(measurements.map(({ rigId }) => rigId))])
    .filter(({ id }) => !inside.some((rig) => rig.id === id));
  const rigs = [...inside, ...out];
  const parts = partRows.getParts(
    store,
    rigs.flatMap(({ partIds, besideIds, otherIds }) => [...partIds, ...besideIds, ...otherIds]),
  );
  const startedAt = new Map(
    runRows
      .runsOfMeasurements(
        store,
        measurements.map(({ id }) => id),
      )
      .map((run) => [run.id, run.startedAt]),
  );
  const { title, tolerance, smallestEffect, demands } = study;
  const { notes, simulation } = studyRows.extrasOf(store, studyId);
  const document = {
    format: "nerrit-study" as const,
    version: 1 as const,
    title,
    tolerance,
    smallestEffect,
    notes,
    demands,
    parts: [...parts.values()].map((part) => ({ id: part.id, ...PartDraft.parse(part) })),
    rigs: rigs.map((rig) => (out.includes(rig) ? { ...rig, out: true } : rig)),
    runs: measurements
      .filter(({ status }) => ENDED.includes(status) && status !== "refused")
      .toReversed()
      .map((one) => {
        const { id, ...now } = rigs.find((rig) => rig.id === one.rigId)!;
        return written(
          one,
          rigOf(id, now, (part) => parts.get(part)),
          startedAt,
        );
      }),
    ...(simulation ? { simulation } : {}),
    ...reported(store, studyId),
  };
  const samples = measurements.flatMap(({ runs }) => runs.map((run) => run.samples.length));
  return { document, samples: samples.reduce((sum, n) => sum + n, 0) };
}

/** How a study is reported, with the pictures of the bench that were chosen; nothing where nothing was. */
function reported(store: Store, studyId: string) {
  const report = ReportChoice.safeParse(reportRows.getReportChoice(store, studyId)).data;
  if (!report) return {};
  const ids = report.photos.map(({ id }) => id);
  const photos = reportRows
    .getPhotos(store, ids)
    .map(({ bytes, ...photo }) => ({ ...photo, data: bytes.toString("base64") }));
  return { report, ...(photos.length > 0 ? { photos } : {}) };
}

/** A measurement as a run of a file. */
function written(one: Measurement, now: Measurement["rig"], startedAt: Map<string, string>) {
  const { id, rigId, drill, origin, status, reason, createdAt, warmUp, stated, conditions } = one;
  const same = JSON.stringify(plain(one.rig)) === JSON.stringify(plain(now));
  return {
    id,
    rigId,
    drill,
    origin,
    status,
    reason,
    createdAt,
    warmUp,
    stated,
    conditions,
    targets: targetsOf(one),
    ...(same ? {} : { rigThen: plain(one.rig) }),
    runs: one.runs.map((run) => recordedRun(run, startedAt.get(run.id)!)),
  };
}

/** A rig with its parts as entered, without what the shelf keeps beside them. */
function plain({ parts, beside, other, ...rest }: Measurement["rig"]) {
  const entry = (part: Measurement["rig"]["parts"][number]) => ({
    id: part.id,
    ...PartDraft.parse(part),
  });
  return { ...rest, parts: parts.map(entry), beside: beside.map(entry), other: other.map(entry) };
}

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

/** Keeps how a file's study is reported, its pictures under the identifiers that follow from what they hold. */
function takeInReport(store: Store, studyId: string, { report, photos = [] }: StudyFile): void {
  if (!report) return;
  const ids = new Map(
    photos.map(({ id, data }) => [id, keepPhoto(store, Buffer.from(data, "base64")).id]),
  );
  const known = report.photos.flatMap((photo) => {
    const id = ids.get(photo.id);
    return id ? [{ ...photo, id }] : [];
  });
  reportRows.putReportChoice(store, studyId, { ...report, photos: known });
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
  file: StudyFile,
  { id, demo }: { id: string; demo: boolean },
): Generator<void, TakenStudy> {
  const at = new Date().toISOString();
  const { partIds, newParts } = shelve(store, file.parts, at, demo);
  const { title, tolerance, smallestEffect, demands, notes } = file;
  const rigIds = new Map(file.rigs.map((rig) => [rig.id, demo ? rig.id : randomUUID()]));
  const { simulation } = file;
  studyRows.insertStudy(store, id, { title, tolerance, smallestEffect }, at, demo);
  studyRows.updateDemands(store, id, demands);
  studyRows.updateExtras(store, id, {
    notes,
    simulation: simulation && simulationWith(simulation, partIds, rigIds),
  });
  takeInReport(store, id, file);
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
