import { PartDraft } from "@/core/chain/part";
import type { PhotoRef } from "@/core/chain/photo-ref";
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
  const runs = runRows.runsOfMeasurements(
    store,
    measurements.map(({ id }) => id),
  );
  const rowOf = new Map(runs.map((run) => [run.id, run]));
  const { title, tolerance, smallestEffect, demands, references, suites } = study;
  const { notes, simulation } = studyRows.extrasOf(store, studyId);
  const recordings = recordingsFor(measurements, fileWith);
  const machines = rigs.map(({ host }) => host);
  const checks = listMachineChecks(store).filter(({ machine }) => machines.includes(machine));
  const farHosts = rigs.flatMap(({ farHost }) => (farHost ? [farHost] : []));
  const networks = listNetworks(store).filter(({ to }) => farHosts.includes(to));
  const document = {
    format: "nerrit-study" as const,
    version: 1 as const,
    title,
    tolerance,
    smallestEffect,
    notes,
    demands,
    references,
    suites: suitesWith(suites, (id) => (rigs.some((rig) => rig.id === id) ? id : undefined)),
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
          rowOf,
        );
      }),
    ...(simulation ? { simulation } : {}),
    ...(networks.length > 0 ? { networks } : {}),
    ...(checks.length > 0 ? { checks } : {}),
    ...reported(store, studyId),
    ...pictured(store, studyId, [...parts.values(), ...rigs, ...runs]),
    ...(recordings.length > 0 ? { recordings } : {}),
  };
  const samples = measurements.flatMap(({ runs }) => runs.map((run) => run.samples.length));
  return { document, samples: samples.reduce((sum, n) => sum + n, 0) };
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
    runs: one.runs.map((run): FiledRun => {
      const { startedAt, photos } = rowOf.get(run.id)!;
      return { ...recordedRun(run, startedAt), ...(photos.length > 0 ? { photos } : {}) };
    }),
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
