import * as z from "zod";
import { Suite, Suites } from "@/core/study/suite";
import type { Store } from "@/store/database";
import { updateSuites } from "@/store/studies";
import { checked, Problem } from "../problem";
import { toldSuites } from "../removed/lists";
import { noteMissing } from "../removed/note";
import { openStudy } from "./studies";

/**
 * Keeps what another program's suite showed through rigs of a study; one of the same name is replaced.
 *
 * @throws Problem naming what is wrong
 */
export function keepSuite(store: Store, studyId: string, input: unknown): void {
  const suite = checked(Suite, input);
  const { study, rigs } = openStudy(store, studyId);
  if (suite.rigIds.some((rigId) => !rigs.some(({ id }) => id === rigId)))
    throw new Problem(422, "The suite names a rig that is not in this study.");
  const others = study.suites.filter(({ name }) => name !== suite.name);
  putSuites(store, studyId, study.suites, [...others, suite]);
}

const Named = z.object({ name: z.string() });

/**
 * Removes a suite from a study.
 *
 * @returns the suite, so that it can be kept again
 * @throws Problem 404
 */
export function removeSuite(store: Store, studyId: string, input: unknown): Suite {
  const { name } = checked(Named, input);
  const { suites } = openStudy(store, studyId).study;
  const removed = suites.find((one) => one.name === name);
  if (!removed) throw new Problem(404, "This study has no such suite.");
  putSuites(
    store,
    studyId,
    suites,
    suites.filter((one) => one !== removed),
  );
  return removed;
}

/** Puts a suite back that was removed, at its place. @throws Problem where the study has too many meanwhile */
export function putSuiteBack(store: Store, studyId: string, suite: Suite, place: number): void {
  const { suites } = openStudy(store, studyId).study;
  putSuites(store, studyId, suites, suites.toSpliced(Math.min(place, suites.length), 0, suite));
}

function putSuites(store: Store, studyId: string, before: readonly Suite[], after: Suite[]): void {
  const suites = checked(Suites, after);
  store.transaction(() => {
    updateSuites(store, studyId, suites);
    noteMissing(store, toldSuites(studyId), before, suites);
  });
}
