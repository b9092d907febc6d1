import { ENDED } from "@/core/drills/request";
import type { Store } from "@/store/database";
import { plansOfStudy } from "@/store/plans";
import * as measurementRows from "@/store/measurements";
import * as studyRows from "@/store/studies";
import { Problem } from "../problem";

/** For so long what was removed can be put back, milliseconds: a week. */
const KEPT_MS = 7 * 86_400e3;

/**
 * Takes a study out of sight; it can be put back for a week.
 *
 * @throws Problem where there is none, where it is sample data, or where something of it is under way
 */
export function removeStudy(store: Store, id: string): void {
  const study = studyRows.getStudy(store, id);
  if (!study) throw new Problem(404, "There is no such study.");
  if (study.simulated)
    throw new Problem(422, "The sample studies go together, by the button below them.");
  const busy =
    measurementRows.measurementsOfStudy(store, id).some(({ status }) => !ENDED.includes(status)) ||
    plansOfStudy(store, id).some(({ state }) => !OVER.includes(state.kind));
  if (busy) throw new Problem(409, "Something of this study is being measured: end that first.");
  studyRows.setStudyRemoved(store, id, new Date().toISOString());
}

/** Plans that do nothing any more. */
const OVER: readonly string[] = ["done", "aborted"];

/** Puts a study back that was removed. @throws Problem 404 */
export function putStudyBack(store: Store, id: string): void {
  if (!studyRows.setStudyRemoved(store, id, null))
    throw new Problem(404, "There is no such study any more.");
}

/** Takes a measurement with its runs out of its study; it can be put back for a week. @throws Problem */
export function removeMeasurement(store: Store, id: string): void {
  const found = measurementRows.getMeasurement(store, id);
  if (!found) throw new Problem(404, "There is no such measurement.");
  if (!ENDED.includes(found.status)) throw new Problem(409, "It is being measured: stop it first.");
  measurementRows.setMeasurementRemoved(store, id, new Date().toISOString());
}

/** Puts a measurement back that was removed. @throws Problem 404 */
export function putMeasurementBack(store: Store, id: string): void {
  if (!measurementRows.setMeasurementRemoved(store, id, null))
    throw new Problem(404, "There is no such measurement any more.");
}

/** Takes for good what was removed more than a week ago. */
export const sweepRemoved = (store: Store, now = Date.now()): void =>
  studyRows.sweepRemoved(store, new Date(now - KEPT_MS).toISOString());
