import { titleOf } from "@/core/drills/drill";
import { ENDED } from "@/core/drills/request";
import { counted } from "@/core/units/counted";
import { formatNumber } from "@/core/units/number";
import { DOING } from "@/core/units/rate";
import { REMOVED_DAYS } from "@/core/study/removed";
import type { Store } from "@/store/database";
import { plansOfStudy } from "@/store/plans";
import * as measurementRows from "@/store/measurements";
import { deleteRemovedBefore, deleteRemovedOf } from "@/store/removed";
import { briefRunsOfMeasurements } from "@/store/runs";
import * as studyRows from "@/store/studies";
import { Problem } from "../problem";
import { noteRemoved } from "../removed/note";

/** For so long what was removed can be put back, milliseconds. */
const KEPT_MS = REMOVED_DAYS * 86_400e3;

/**
 * Takes a study out of sight; it can be put back for 30 days.
 *
 * @throws Problem where there is none, where it is sample data, or where something of it is under way
 */
export function removeStudy(store: Store, id: string): void {
  const study = studyRows.getStudy(store, id);
  if (!study) throw new Problem(404, "There is no such study.");
  if (study.simulated)
    throw new Problem(422, "The sample studies go together, by the button below them.");
  const measured = measurementRows.measurementsOfStudy(store, id);
  const busy =
    measured.some(({ status }) => !ENDED.includes(status)) ||
    plansOfStudy(store, id).some(({ state }) => !OVER.includes(state.kind));
  if (busy) throw new Problem(409, "Something of this study is being measured: end that first.");
  const rigs = studyRows.rigsOfStudy(store, id);
  store.transaction(() => {
    studyRows.setStudyRemoved(store, id, new Date().toISOString());
    noteRemoved(store, {
      kind: "study",
      of: id,
      studyId: null,
      title: study.title,
      details: `${counted(rigs.length, "rig")}, ${measured.length === 0 ? "not measured" : `measured ${counted(measured.length, "time")}`}`,
      kept: null,
    });
  });
}

/** Plans that do nothing any more. */
const OVER: readonly string[] = ["done", "aborted"];

/** Puts a study back that was removed. @throws Problem 404 */
export function putStudyBack(store: Store, id: string): void {
  if (!studyRows.setStudyRemoved(store, id, null))
    throw new Problem(404, "There is no such study any more.");
  deleteRemovedOf(store, "study", id);
}

/** Takes a measurement with its runs out of its study; it can be put back for 30 days. @throws Problem */
export function removeMeasurement(store: Store, id: string): void {
  const found = measurementRows.getMeasurement(store, id);
  if (!found) throw new Problem(404, "There is no such measurement.");
  if (!ENDED.includes(found.status)) throw new Problem(409, "It is being measured: stop it first.");
  const { drill, rig, studyId } = found;
  const details = runsInWords(store, id);
  store.transaction(() => {
    measurementRows.setMeasurementRemoved(store, id, new Date().toISOString());
    noteRemoved(store, {
      kind: "measurement",
      of: id,
      studyId,
      title: `${titleOf(drill)}, ${drill.direction === "mixed" ? "both ways" : DOING[drill.direction]}, through ${rig.name}`,
      details,
      kept: null,
    });
  });
}

/** More runs of one measurement are not told one by one. */
const MOST_TOLD = 5;

function runsInWords(store: Store, measurementId: string): string {
  const runs = briefRunsOfMeasurements(store, [measurementId]);
  const rates = runs.flatMap(({ result }) => (result ? [formatNumber(result.meanMBps)] : []));
  const told = rates.slice(0, MOST_TOLD).join(", ") + (rates.length > MOST_TOLD ? ", ..." : "");
  return `${counted(runs.length, "run")}${told ? `: ${told} MB/s` : ""}`;
}

/** Puts a measurement back that was removed. @throws Problem 404 */
export function putMeasurementBack(store: Store, id: string): void {
  if (!measurementRows.setMeasurementRemoved(store, id, null))
    throw new Problem(404, "There is no such measurement any more.");
  deleteRemovedOf(store, "measurement", id);
}

/** Takes for good what was removed more than 30 days ago. */
export function sweepRemoved(store: Store, now = Date.now()): void {
  const before = new Date(now - KEPT_MS).toISOString();
  store.transaction(() => {
    studyRows.sweepRemoved(store, before);
    for (const { kind, of } of deleteRemovedBefore(store, before)) {
      // A rig that runs were made with stays with them.
      if (kind === "rig" && !studyRows.studyOfRig(store, of)) studyRows.deleteRig(store, of);
    }
  });
}
