import { REMOVED_DAYS, type Removed, type RemovedKind } from "@/core/study/removed";
import type { KnownHost } from "@/core/host/known-host";
import type { Drill } from "@/core/drills/drill";
import type { Correction } from "@/core/run/mark";
import type { Demand } from "@/core/study/demand";
import type { Reference } from "@/core/study/reference";
import type { Suite } from "@/core/study/suite";
import type { Store } from "@/store/database";
import { listHosts, putHost } from "@/store/hosts";
import { getRemoved, getRemovedOf, listRemoved, type RemovedRow } from "@/store/removed";
import { findRun } from "@/store/runs";
import { getStudy, type RigPlace } from "@/store/studies";
import { keepDrill } from "../measuring/own-drills";
import { Problem } from "../problem";
import { restoreOwnMode } from "../shelf/own-modes";
import { retire } from "../shelf/shelf";
import { putMeasurementBack, putStudyBack } from "../studies/removal";
import { openStudy, restoreRig } from "../studies/studies";
import { setDemands, setReferences } from "../studies/change-study";
import { putSuiteBack } from "../studies/suites";
import { correctRun } from "../studies/trace";
import { TOLD_HOSTS } from "./lists";
import { noteMissing } from "./note";

const DAY_MS = 86_400e3;

/** Everything that was removed lately, the latest first. */
export function removedLately(store: Store): Removed[] {
  return listRemoved(store).map(({ id, kind, title, details, at, studyId }) => ({
    id,
    kind,
    title,
    details,
    at,
    until: new Date(Date.parse(at) + REMOVED_DAYS * DAY_MS).toISOString(),
    study: studyId === null ? null : studyNow(store, studyId),
  }));
}

/** A study as it stands now: there, or removed itself. */
function studyNow(store: Store, id: string): Removed["study"] {
  const study = getStudy(store, id);
  const title = study?.title ?? getRemovedOf(store, "study", id)?.title ?? "";
  return { id, title, isRemoved: study === null };
}

/**
 * Puts something back that was removed, whole and in its place.
 *
 * @throws Problem where it is not there any more, where what it stood in is removed too, or where something of
 *   its name has taken its place
 */
export function putBack(store: Store, id: string): void {
  const row = getRemoved(store, id);
  if (!row)
    throw new Problem(404, "That is not here any more: it was put back, or its time is over.");
  if (row.studyId !== null && !getStudy(store, row.studyId))
    throw new Problem(
      409,
      "The study that it was removed from is removed too: put that back first.",
    );
  store.transaction(() => BACK[row.kind](store, row));
}

/** Something of a list, with its place on it. */
interface Listed<T> {
  value: T;
  place: number;
  within: string | null;
}

const listed = <T>({ kept }: RemovedRow): Listed<T> => kept as Listed<T>;

/** A list with something on it again, where it was, as far as the list still goes so far. */
const withBack = <T>(now: readonly T[], { value, place }: Listed<T>): T[] =>
  now.toSpliced(Math.min(place, now.length), 0, value);

/** Refuses what would stand on a list twice. */
function assertFree(taken: boolean, title: string): void {
  if (taken)
    throw new Problem(
      409,
      `Something called “${title}” has taken its place: rename or remove that first.`,
    );
}

const BACK: Record<RemovedKind, (store: Store, row: RemovedRow) => void> = {
  study: (store, { of }) => putStudyBack(store, of),
  measurement: (store, { of }) => putMeasurementBack(store, of),
  rig: (store, { of, kept }) => restoreRig(store, of, kept as RigPlace),
  part: (store, { of }) => retire(store, of, false),
  demand: (store, row) => {
    const { demands } = openStudy(store, row.studyId!).study;
    assertFree(
      demands.some(({ name }) => name === row.title),
      row.title,
    );
    setDemands(store, row.studyId!, withBack(demands, listed<Demand>(row)));
  },
  reference: (store, row) => {
    const { references } = openStudy(store, row.studyId!).study;
    setReferences(store, row.studyId!, withBack(references, listed<Reference>(row)));
  },
  suite: (store, row) => {
    const { suites } = openStudy(store, row.studyId!).study;
    assertFree(
      suites.some(({ name }) => name === row.title),
      row.title,
    );
    const { value, place } = listed<Suite>(row);
    putSuiteBack(store, row.studyId!, value, place);
  },
  correction: (store, row) => {
    const kept = listed<Correction>(row);
    const found = findRun(store, kept.within!);
    if (!found) throw new Problem(404, "The run that was corrected is removed too.");
    correctRun(store, kept.within!, { corrections: withBack(found.run.corrections, kept) });
  },
  drill: (store, row) => void keepDrill(store, listed<Drill>(row).value),
  mode: (store, row) => restoreOwnMode(store, listed<string>(row).value),
  host: (store, row) => {
    const { value } = listed<KnownHost>(row);
    assertFree(
      listHosts(store).some(({ name }) => name === value.name),
      value.name,
    );
    putHost(store, value, new Date().toISOString());
    noteMissing(store, TOLD_HOSTS, [], [value]);
  },
};
