import type { PhotoRef } from "@/core/chain/photo-ref";
import { plainPart, plainRig } from "@/core/exchange/plain-rig";
import { recordedRun } from "@/core/exchange/runs-file";
import { MOST_FILED } from "@/core/exchange/study-file";
import type { FiledRun } from "@/core/exchange/study-run";
import {
  FileProblem,
  MOST_IN_DOCUMENT,
  MOST_IN_FILE,
  packStudy,
} from "@/core/exchange/study-archive";
import { ReportChoice } from "@/core/study/report-choice";
import { ENDED } from "@/core/drills/request";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import type { Store } from "@/store/database";
import { listMachineChecks } from "@/store/machine-checks";
import { listNetworks } from "@/store/networks";
import * as partRows from "@/store/parts";
import * as runRows from "@/store/runs";
import * as reportRows from "@/store/reports";
import { suitesWith } from "@/core/study/suite";
import * as studyRows from "@/store/studies";
import { formatSize } from "@/core/units/size";
import { Problem } from "../problem";
import { recordingsFor } from "../recordings/in-study";
import type { Recordings } from "../recordings/recordings";
import { writingOf } from "../writing";
import { tracedMeasurementsOf, openStudy, rigOf } from "./studies";

/** A study as a file, ready to be saved. */
export interface SavedStudy {
  bytes: Uint8Array;
  kind: "json" | "zip";
}

/**
 * Puts everything of a study into a file; with long traces that is an archive.
 *
 * @param fileWith where the recording with a digest lies
 * @throws Problem 404, or 413 where no such file could be read again
 */
export function saveStudy(
  store: Store,
  studyId: string,
  fileWith: Recordings["fileWith"] = () => null,
): SavedStudy {
  const { document, samples } = studyDocument(store, studyId, fileWith);
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
export function studyDocument(
  store: Store,
  studyId: string,
  fileWith: Recordings["fileWith"] = () => null,
) {
  const measurements = tracedMeasurementsOf(store, studyId);
  const { frame, rigs, parts } = framed(
    store,
    studyId,
    measurements.map(({ rigId }) => rigId),
  );
  const runs = runRows.runsOfMeasurements(
    store,
    measurements.map(({ id }) => id),
  );
  const rowOf = new Map(runs.map((run) => [run.id, run]));
  const recordings = recordingsFor(measurements, fileWith);
  const document = {
    ...frame,
    runs: measurements
      .filter(({ status }) => ENDED.includes(status) && status !== "refused")
      .toReversed()
      .map((one) => {
        const { id, ...now } = rigs.find((rig) => rig.id === one.rigId)!;
        return written(
          one,
          rigOf(id, now, (part) => parts.get(part)),
          rowOf,
        );
      }),
    ...pictured(store, studyId, [...parts.values(), ...rigs, ...runs]),
    ...(recordings.length > 0 ? { recordings } : {}),
  };
  const samples = measurements.flatMap(({ runs }) => runs.map((run) => run.samples.length));
  return { document, samples: samples.reduce((sum, n) => sum + n, 0) };
}

/**
 * A study's file without its runs, its pictures and its recordings.
 *
 * @param measured the rigs that its runs are of, by their ids
 * @throws Problem 404
 */
export const studyFrame = (store: Store, studyId: string, measured: readonly string[]) =>
  framed(store, studyId, measured).frame;

function framed(store: Store, studyId: string, measured: readonly string[]) {
  const { study } = openStudy(store, studyId);
  const inside = studyRows.rigsOfStudy(store, studyId);
  const out = studyRows
    .rigsById(store, [...new Set(measured)])
    .filter(({ id }) => !inside.some((rig) => rig.id === id));
  const rigs = [...inside, ...out];
  const parts = partRows.getParts(
    store,
    rigs.flatMap(({ partIds, besideIds, otherIds }) => [...partIds, ...besideIds, ...otherIds]),
  );
  const { title, tolerance, smallestEffect, demands, references, suites } = study;
  const { notes, simulation } = studyRows.extrasOf(store, studyId);
  const machines = rigs.map(({ host }) => host);
  const checks = listMachineChecks(store).filter(({ machine }) => machines.includes(machine));
  const farHosts = rigs.flatMap(({ farHost }) => (farHost ? [farHost] : []));
  const networks = listNetworks(store).filter(({ to }) => farHosts.includes(to));
  const frame = {
    format: "nerrit-study" as const,
    version: 1 as const,
    title,
    tolerance,
    smallestEffect,
    notes,
    ...(study.tags?.length ? { tags: study.tags } : {}),
    demands,
    references,
    suites: suitesWith(suites, (id) => (rigs.some((rig) => rig.id === id) ? id : undefined)),
    parts: [...parts.values()].map(plainPart),
    rigs: rigs.map((rig) => (out.includes(rig) ? { ...rig, out: true } : rig)),
    ...(simulation ? { simulation } : {}),
    ...(networks.length > 0 ? { networks } : {}),
    ...(checks.length > 0 ? { checks } : {}),
    ...reported(store, studyId),
  };
  return { frame, rigs, parts };
}

/** How a study is reported; nothing where nothing was chosen. */
function reported(store: Store, studyId: string) {
  const report = ReportChoice.safeParse(reportRows.getReportChoice(store, studyId)).data;
  if (!report) return {};
  // What is made of the file elsewhere is written as it is here.
  return { report: { ...report, ...writingOf(store) } };
}

/** The pictures of the report, the parts, the rigs and the runs, each once; nothing where there are none. */
function pictured(store: Store, studyId: string, items: readonly { photos: PhotoRef[] }[]) {
  const report = ReportChoice.safeParse(reportRows.getReportChoice(store, studyId)).data;
  const all = [...(report?.photos ?? []), ...items.flatMap((item) => item.photos)];
  const ids = [...new Set(all.map(({ id }) => id))];
  // What is written can be read again.
  if (ids.length > MOST_FILED)
    throw new Problem(
      413,
      `The study has ${ids.length} pictures; a file holds ${MOST_FILED}. Remove some from its parts, rigs or runs.`,
    );
  const photos = reportRows
    .getPhotos(store, ids)
    .map(({ bytes, ...photo }) => ({ ...photo, data: bytes.toString("base64") }));
  return photos.length > 0 ? { photos } : {};
}

/** A measurement as a run of a file. */
function written(one: Measurement, now: Measurement["rig"], rowOf: Map<string, runRows.RunRow>) {
  const { id, rigId, drill, origin, status, reason, createdAt, warmUp, stated, conditions } = one;
  const same = JSON.stringify(plainRig(one.rig)) === JSON.stringify(plainRig(now));
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
    ...(same ? {} : { rigThen: plainRig(one.rig) }),
    runs: one.runs.map((run): FiledRun => {
      const { startedAt, photos } = rowOf.get(run.id)!;
      return { ...recordedRun(run, startedAt), ...(photos.length > 0 ? { photos } : {}) };
    }),
  };
}
