import { randomUUID } from "node:crypto";
import * as z from "zod";
import type { Part } from "@/core/chain/part";
import { thinned } from "@/core/trace/thin";
import { completeResult } from "@/core/drills/summary";
import { briefOf } from "@/core/run/brief";
import { BARE_RIG, RigDraft, rigProblems, type Rig } from "@/core/chain/rig";
import { stagesOf } from "@/core/chain/stages";
import { Direction } from "@/core/units/rate";
import { isEqualRig, MOST_COMBINED } from "@/core/chain/combine";
import { linkProblems } from "@/core/chain/bottleneck";
import { StudyDraft, type Study } from "@/core/study/study";
import type { BriefMeasurement, BriefRun, Measurement } from "@/core/study/measurement";
import { UNSAID } from "@/core/run/stated";
import type { Store } from "@/store/database";
import { getParts } from "@/store/parts";
import * as measurementRows from "@/store/measurements";
import { momentsOfRun } from "@/store/moments";
import { deleteRemovedOf, getRemovedOf } from "@/store/removed";
import * as rows from "@/store/runs";
import * as studies from "@/store/studies";
import { refuseIfChanged } from "../changed";
import { checked, Problem } from "../problem";
import { noteRemoved } from "../removed/note";

/** A study with its rigs, in the order of their letters. */
export interface OpenStudy {
  study: Study;
  rigs: Rig[];
}

/** Creates a study. @returns its id */
export function createStudy(store: Store, input: unknown): string {
  const draft = checked(StudyDraft, input);
  const id = randomUUID();
  studies.insertStudy(store, id, draft, now());
  return id;
}

/** @throws Problem 404 */
export function openStudy(store: Store, id: string): OpenStudy {
  const study = studies.getStudy(store, id);
  if (!study) throw new Problem(404, "There is no such study.");
  const found = studies.rigsOfStudy(store, id);
  const parts = getParts(store, found.flatMap(idsOf));
  return { study, rigs: found.map((row) => rigOf(row.id, row, (id) => parts.get(id))) };
}

type RigParts = Pick<RigDraft, "partIds" | "besideIds" | "otherIds">;

/** Every part a rig names, wherever it stands in it. */
const idsOf = ({ partIds, besideIds, otherIds }: RigParts) => [
  ...partIds,
  ...besideIds,
  ...otherIds,
];

/** Puts a rig's parts in their places; one that is nowhere to be found is left out. */
export function rigOf(id: string, draft: RigDraft, find: (id: string) => Part | undefined): Rig {
  const { partIds, besideIds, otherIds, ...rest } = draft;
  const pick = (ids: readonly string[]) => ids.flatMap((partId) => find(partId) ?? []);
  return {
    ...rest,
    id,
    parts: pick(partIds),
    beside: pick(besideIds),
    other: pick(otherIds),
  };
}

/** All studies, each with its rigs. */
export function listStudies(store: Store): OpenStudy[] {
  return studies.listStudies(store).map(({ id }) => openStudy(store, id));
}

/** The studies there are, by name. */
export const studyTitles = (store: Store): { id: string; title: string }[] =>
  studies.listStudies(store).map(({ id, title }) => ({ id, title }));

/**
 * Adds a rig to a study. @returns its id. @throws Problem where the parts make no rig, or where the study has
 * the same rig already: its field names that rig
 */
export function addRig(store: Store, studyId: string, input: unknown): string {
  if (!studies.getStudy(store, studyId)) throw new Problem(404, "There is no such study.");
  const draft = checkedRig(store, input);
  refuseIfThere(store, studyId, draft);
  const id = randomUUID();
  studies.insertRig(store, studyId, id, draft, now());
  return id;
}

const SeveralRigs = z.object({ rigs: z.array(z.unknown()).min(1).max(MOST_COMBINED) });

/** Adds several rigs to a study, all of them or none. @returns their ids. @throws Problem as for one */
export function addRigs(store: Store, studyId: string, input: unknown): string[] {
  const { rigs } = checked(SeveralRigs, input);
  return store.transaction(() => rigs.map((rig) => addRig(store, studyId, rig)));
}

/** The rig of a study that is the same as another, whatever it is called; undefined where it has none. */
export const sameRig = (store: Store, studyId: string, draft: RigDraft) =>
  studies.rigsOfStudy(store, studyId).find((rig) => isEqualRig(draft, RigDraft.parse(rig)));

function refuseIfThere(store: Store, studyId: string, draft: RigDraft): void {
  const there = sameRig(store, studyId, draft);
  if (!there) return;
  throw new Problem(
    422,
    `This is rig “${there.name}” already: the same parts in the same order, and nothing else differs.`,
    [{ path: there.id, message: "the same rig" }],
    "equal",
  );
}

const RIG_FIELDS = {
  name: "its name",
  partIds: "the order of its parts",
  transport: "its driver mode",
  fileSystem: "its file system",
  mountedAs: "its mount",
  host: "its host",
  farHost: "its far host",
  settled: "what is said of its links",
  besideIds: "the drives beside",
  bay: "its bay",
  otherIds: "the other end of the copy",
  assumptions: "what is assumed of its links",
  photos: "its pictures",
};

/** Changes a rig; runs made before keep the rig as it was. */
export function changeRig(store: Store, rigId: string, input: unknown): void {
  const draft = checkedRig(store, input);
  const [stored] = studies.rigsById(store, [rigId]);
  if (stored) refuseIfChanged(input, RigDraft, RigDraft.parse(stored), RIG_FIELDS);
  if (!studies.updateRig(store, rigId, draft)) throw new Problem(404, "There is no such rig.");
}

/** Takes a rig out of its study; its runs stay in the database. @returns where it stood */
export function dropRig(store: Store, rigId: string): studies.RigPlace {
  const standing = studies.studyOfRig(store, rigId);
  const rig = standing && openStudy(store, standing).rigs.find(({ id }) => id === rigId);
  if (!rig) throw new Problem(404, "There is no such rig.");
  return store.transaction(() => {
    const place = studies.removeRig(store, rigId)!;
    noteRemoved(store, {
      kind: "rig",
      of: rigId,
      studyId: place.studyId,
      title: rig.name,
      details: rig.parts.map(({ name }) => name).join(", "),
      kept: place,
    });
    return place;
  });
}

const RigPlace = z.object({ studyId: z.string(), position: z.number().int().min(0).max(1e6) });

/** Puts a rig that was taken out back where it stood. */
export function restoreRig(store: Store, rigId: string, input: unknown): void {
  const place = checked(RigPlace, input);
  const stood = getRemovedOf(store, "rig", rigId)?.studyId ?? studies.measuredIn(store, rigId);
  store.transaction(() => {
    if (stood !== place.studyId || !studies.restoreRig(store, rigId, place))
      throw new Problem(404, "There is no such rig to put back.");
    deleteRemovedOf(store, "rig", rigId);
  });
}

function checkedRig(store: Store, input: unknown): RigDraft {
  const draft = checked(RigDraft, input);
  const parts = getParts(store, idsOf(draft));
  for (const id of idsOf(draft)) {
    if (parts.has(id)) continue;
    throw new Problem(422, "A part of the rig is not on the shelf.", [
      { path: "partIds", message: `there is no part ${id}` },
    ]);
  }
  const rig = rigOf("new", draft, (id) => parts.get(id));
  const problems = rigProblems(rig);
  if (problems.length === 0) problems.push(...linkProblems(rig), ...assumptionProblems(rig));
  if (problems.length > 0) {
    throw new Problem(
      422,
      problems.join(" "),
      problems.map((message) => ({ path: "partIds", message })),
    );
  }
  return draft;
}

/** What is assumed of a link may leave no room for payload on it: that is no link. */
function assumptionProblems(rig: Rig): string[] {
  try {
    for (const direction of Direction.options) stagesOf(rig, direction);
    return [];
  } catch (error) {
    if (error instanceof RangeError) return [error.message];
    throw error;
  }
}

/** The rig and study a measurement is asked for. @throws Problem 404 */
export function findRig(store: Store, rigId: string): { studyId: string; rig: Rig } {
  const studyId = studies.studyOfRig(store, rigId);
  const rig = studyId && openStudy(store, studyId).rigs.find(({ id }) => id === rigId);
  if (!studyId || !rig) throw new Problem(404, "There is no such rig.");
  return { studyId, rig };
}

/** A study's measurements with their runs in brief, the latest first. */
export function measurementsOf(store: Store, studyId: string): BriefMeasurement[] {
  const found = measurementRows.measurementsOfStudy(store, studyId);
  const rigs = new Map<Rig, Rig>();
  const complete = (rig: Rig) => {
    if (!rigs.has(rig)) rigs.set(rig, { ...BARE_RIG, ...rig });
    return rigs.get(rig)!;
  };
  const runs = new Map<string, BriefRun[]>();
  for (const { measurementId, ...run } of rows.briefRunsOfStudy(store, studyId)) {
    const alike = runs.get(measurementId);
    if (alike) alike.push(run);
    else runs.set(measurementId, [run]);
  }
  return found.map((row) => ({
    ...measured(row),
    rig: complete(row.rig),
    runs: runs.get(row.id) ?? [],
  }));
}

/** A study's measurements with all their traces, the latest first: for its file. */
export const tracedMeasurementsOf = (store: Store, studyId: string): Measurement[] =>
  withTraces(store, measurementRows.measurementsOfStudy(store, studyId));

/**
 * One measurement with its traces.
 *
 * @param most samples of a run at the most; beyond that neighbours are joined
 * @throws Problem 404
 */
export function measurement(
  store: Store,
  id: string,
  most = Infinity,
): Measurement & { studyId: string } {
  const row = measurementRows.getMeasurement(store, id);
  if (!row) throw new Problem(404, "There is no such measurement.");
  const [found] = withTraces(store, [row]);
  const runs = found!.runs.map((run) => ({ ...run, samples: thinned(run.samples, most) }));
  return { ...found!, runs, studyId: row.studyId };
}

function withTraces(store: Store, found: measurementRows.MeasurementRow[]): Measurement[] {
  const runs = rows.runsOfMeasurements(
    store,
    found.map(({ id }) => id),
  );
  return found.map((row) => ({
    ...measured(row),
    runs: runs
      .filter(({ measurementId }) => measurementId === row.id)
      .map((run) => ({
        ...briefRunOf(run),
        steps: rows.stepsOfRun(store, run.id),
        samples: rows.samplesOfRun(store, run.id),
        ...momentsOfRun(store, run.id),
      })),
  }));
}

const measured = (row: measurementRows.MeasurementRow): Omit<Measurement, "runs"> => ({
  id: row.id,
  rigId: row.rigId,
  drill: row.drill,
  target: row.target,
  status: row.status,
  reason: row.reason,
  createdAt: row.createdAt,
  warmUp: row.warmUp,
  origin: row.origin,
  stated: row.stated ?? UNSAID,
  rig: { ...BARE_RIG, ...row.rig },
  conditions: row.conditions,
});

const briefRunOf = ({
  id,
  repeat,
  status,
  errors,
  corrections,
  leftOut,
  result,
}: rows.RunRow): BriefRun => ({
  id,
  repeat,
  status,
  errors,
  corrections,
  leftOut,
  result: result && briefOf(completeResult(result)),
});

const now = () => new Date().toISOString();
