import { createHash } from "node:crypto";
import { setImmediate } from "node:timers/promises";
import { answerFor } from "@/core/answer/study";
import { putFindings, putVerdicts } from "@/core/archive/rows/conclusions";
import { partsOf, partVersion, putPart, putRig, rigVersion } from "@/core/archive/rows/gear";
import type { Writing } from "@/core/archive/rows/gear";
import { markVersion, putMark, putRuns } from "@/core/archive/rows/run";
import { placeOf } from "@/core/archive/tables";
import type { ArchiveProgress } from "@/core/archive/view";
import type { Part } from "@/core/chain/part";
import type { Rig } from "@/core/chain/rig";
import { Direction } from "@/core/units/rate";
import type { ArchiveWriter } from "@/archive/writer";
import type { Store } from "@/store/database";
import { listParts } from "@/store/parts";
import { endedRunsOfStudy } from "@/store/runs";
import { listStudies } from "@/store/studies";
import { openCompared } from "../conclusions/comparison";
import { conclusionsOf } from "../conclusions/conclusions";
import { judgedOf } from "../conclusions/judged";
import { studyFrame } from "../studies/save-study";
import { measurement } from "../studies/studies";

/** What is wanted of a bench. */
export interface Wanted {
  /** Whether the sample studies go into the archive too. */
  samples: boolean;
  /** The machine whose bench this is: the folder of what was made on no other. */
  host: string;
  /** ISO 8601. */
  at: string;
}

const digest = (text: string): string =>
  createHash("sha256").update(text).digest("hex").slice(0, 24);

/**
 * Puts everything of a bench that an archive lacks into it: ended runs with all that was kept of them, parts
 * and rigs as they are and were, what the tester did to runs since, findings and verdicts as they are now.
 *
 * @param say is told how far it is
 */
export async function gather(
  store: Store,
  writer: ArchiveWriter,
  { samples, host, at }: Wanted,
  say: (gathered: ArchiveProgress) => void,
): Promise<ArchiveProgress> {
  const writing: Writing = { put: writer.put, digest, at, place: placeOf(at, host) };
  const studies = listStudies(store).filter(({ simulated }) => samples || !simulated);
  const gear = new Gear(writer, writing);
  for (const part of listParts(store)) if (samples || !part.demo) gear.put([part]);
  const runs = new Map(studies.map(({ id }) => [id, endedRunsOfStudy(store, id)]));
  const of = [...runs.values()].reduce((sum, list) => sum + list.length, 0);
  const gathered: ArchiveProgress = { done: 0, of, added: 0 };
  for (const { id } of studies) {
    for (const alike of byMeasurement(runs.get(id)!)) {
      const fresh = new Set(alike.flatMap((run) => (writer.known.runs.has(run.id) ? [] : run.id)));
      if (fresh.size > 0) {
        const one = measurement(store, alike[0]!.measurementId);
        gear.putRig(one.rig);
        const startedAt = new Map(alike.map((run) => [run.id, run.startedAt]));
        putRuns({ studyId: id, measurement: one, startedAt }, (run) => fresh.has(run), writing);
        await writer.settle();
      }
      for (const run of alike) {
        const known = writer.known.runs.get(run.id);
        if (known !== undefined && known !== markVersion(run, digest)) putMark(run, writing);
      }
      gathered.done += alike.length;
      gathered.added += fresh.size;
      say(gathered);
    }
    putStudy(store, id, gear, writing);
    // Whoever wants to stop it is heard.
    await setImmediate();
  }
  return gathered;
}

/** Writes a study as it is now, with what follows from all of its runs. */
function putStudy(
  store: Store,
  id: string,
  gear: Gear,
  { put, at, place, ...rest }: Writing,
): void {
  const writing = { put, at, place, ...rest };
  const kept = openCompared(store, id);
  for (const rig of kept.rigs) gear.putRig(rig);
  const { title, tolerance, smallestEffect, notes = "" } = kept.study;
  const measured = kept.measurements.map(({ rigId }) => rigId);
  const document = JSON.stringify(studyFrame(store, id, measured));
  put("studies", place, {
    study_version: digest(document),
    study_id: id,
    title,
    notes,
    tolerance_share: tolerance,
    smallest_effect_share: smallestEffect,
    document_json: document,
    written_at: at,
  });
  const conclusions = conclusionsOf(store, kept);
  for (const direction of Direction.options)
    putFindings(id, answerFor(conclusions, direction, { steps: false }), writing);
  putVerdicts(id, judgedOf(store, kept, "MB/s").judged, writing);
}

/** Writes parts and rigs that the archive lacks; each version is looked at once. */
class Gear {
  private readonly seen = new WeakSet<Part | Rig>();

  constructor(
    private readonly writer: ArchiveWriter,
    private readonly writing: Writing,
  ) {}

  put(parts: readonly Part[]): void {
    for (const part of parts) {
      if (this.seen.has(part)) continue;
      this.seen.add(part);
      if (this.writer.known.lacks("parts", partVersion(part, digest))) putPart(part, this.writing);
    }
  }

  putRig(rig: Rig): void {
    if (this.seen.has(rig)) return;
    this.seen.add(rig);
    this.put(partsOf(rig));
    if (this.writer.known.lacks("rigs", rigVersion(rig, digest))) putRig(rig, this.writing);
  }
}

/** Runs that follow each other and are of one measurement, together. */
function byMeasurement<T extends { measurementId: string }>(runs: readonly T[]): T[][] {
  const groups: T[][] = [];
  for (const run of runs) {
    const last = groups.at(-1);
    if (last?.[0]!.measurementId === run.measurementId) last.push(run);
    else groups.push([run]);
  }
  return groups;
}
