import { and, asc, desc, eq, inArray, isNull, lt, max } from "drizzle-orm";
import type { RigDraft } from "@/core/chain/rig";
import type { Study, StudyDraft, StudyLabels } from "@/core/study/study";
import type { Reference } from "@/core/study/reference";
import type { Suite } from "@/core/study/suite";
import type { Demand } from "@/core/study/demand";
import type { Store } from "./store";
import { measurements, removed, rigs, studies, studyRigs, type RigSetup } from "./schema";

/** A rig as stored: what was entered, and its identifier. */
export type StoredRig = RigDraft & { id: string };

/** What a rig says of itself where an older version did not ask. */
const NO_SETUP: RigSetup = {
  mountedAs: "",
  host: "",
  farHost: "",
  settled: [],
  held: [],
  besideIds: [],
  layout: "apart",
  layoutBy: "box",
  bay: "",
  otherIds: [],
  photos: [],
  assumptions: {},
};

const fromRow = ({ setup, createdAt: _, ...row }: typeof rigs.$inferSelect): StoredRig => ({
  ...NO_SETUP,
  ...setup,
  ...row,
});

const toRow = ({ name, partIds, transport, fileSystem, ...setup }: RigDraft) => ({
  name,
  partIds,
  transport,
  fileSystem,
  setup,
});

export function listStudies(store: Store): Study[] {
  // Sample data stands after what is the tester’s own.
  return store
    .select()
    .from(studies)
    .where(isNull(studies.removedAt))
    .orderBy(asc(studies.simulated), desc(studies.createdAt))
    .all();
}

export function getStudy(store: Store, id: string): Study | null {
  const there = and(eq(studies.id, id), isNull(studies.removedAt));
  return store.select().from(studies).where(there).get() ?? null;
}

/** Takes a study out of sight, or puts it back. @param at since when; null puts it back @returns whether there is such a study */
export const setStudyRemoved = (store: Store, id: string, at: string | null): boolean =>
  store.update(studies).set({ removedAt: at }).where(eq(studies.id, id)).run().changes > 0;

/** Takes for good what was removed before an instant: whole studies, and single measurements. */
export function sweepRemoved(store: Store, before: string): void {
  const old = store.select({ id: studies.id }).from(studies).where(lt(studies.removedAt, before));
  for (const { id } of old.all()) deleteStudy(store, id);
  store.delete(measurements).where(lt(measurements.removedAt, before)).run();
}

export function insertStudy(
  store: Store,
  id: string,
  draft: StudyDraft,
  at: string,
  simulated = false,
): void {
  store
    .insert(studies)
    .values({ id, ...draft, simulated, createdAt: at })
    .run();
}

/** Takes a study out of the database for good, with its rigs and runs. */
export function deleteStudy(store: Store, id: string): void {
  store.transaction((tx) => {
    const own = tx
      .select({ id: studyRigs.rigId })
      .from(studyRigs)
      .where(eq(studyRigs.studyId, id))
      .all();
    const measured = tx
      .select({ id: measurements.rigId })
      .from(measurements)
      .where(eq(measurements.studyId, id))
      .all();
    tx.delete(studies).where(eq(studies.id, id)).run();
    tx.delete(removed).where(eq(removed.studyId, id)).run();
    const ids = [...new Set([...own, ...measured].map((rig) => rig.id))];
    tx.delete(rigs).where(inArray(rigs.id, ids)).run();
  });
}

export const updateLabels = (store: Store, id: string, labels: StudyLabels): boolean =>
  store.update(studies).set(labels).where(eq(studies.id, id)).run().changes > 0;

/** Sets a study aside, or brings it back. @param since null brings it back */
export const setAside = (store: Store, id: string, since: string | null): boolean =>
  store.update(studies).set({ asideSince: since }).where(eq(studies.id, id)).run().changes > 0;

export const updateReferences = (store: Store, id: string, references: Reference[]): boolean =>
  store.update(studies).set({ references }).where(eq(studies.id, id)).run().changes > 0;

export const updateSuites = (store: Store, id: string, suites: Suite[]): boolean =>
  store.update(studies).set({ suites }).where(eq(studies.id, id)).run().changes > 0;

export const updateDemands = (store: Store, id: string, demands: Demand[]): boolean =>
  store.update(studies).set({ demands }).where(eq(studies.id, id)).run().changes > 0;

export const updateTolerance = (store: Store, id: string, tolerance: number): boolean =>
  store.update(studies).set({ tolerance }).where(eq(studies.id, id)).run().changes > 0;

export const updateNotes = (store: Store, id: string, notes: string): boolean =>
  store.update(studies).set({ notes }).where(eq(studies.id, id)).run().changes > 0;

/** What a study says of itself beside its question. */
export type StudyExtras = Pick<typeof studies.$inferSelect, "notes" | "simulation">;

export function extrasOf(store: Store, id: string): StudyExtras {
  const { notes, simulation } = studies;
  const row = store.select({ notes, simulation }).from(studies).where(eq(studies.id, id)).get();
  return row ?? { notes: "", simulation: null };
}

export const updateExtras = (
  store: Store,
  id: string,
  { notes, simulation }: { notes: string; simulation?: StudyExtras["simulation"] | undefined },
): boolean =>
  store
    .update(studies)
    .set({ notes, simulation: simulation ?? null })
    .where(eq(studies.id, id))
    .run().changes > 0;

/** Rigs by their identifiers, whether they stand in a study or were taken out. */
export const rigsById = (store: Store, ids: readonly string[]): StoredRig[] =>
  store
    .select()
    .from(rigs)
    .where(inArray(rigs.id, [...ids]))
    .all()
    .map(fromRow);

/** The rigs of a study in the order of their letters. */
export function rigsOfStudy(store: Store, studyId: string): StoredRig[] {
  return store
    .select({ rig: rigs })
    .from(studyRigs)
    .innerJoin(rigs, eq(rigs.id, studyRigs.rigId))
    .where(eq(studyRigs.studyId, studyId))
    .orderBy(asc(studyRigs.position), asc(studyRigs.rigId))
    .all()
    .map(({ rig }) => fromRow(rig));
}

/** Stores a new rig as the last of a study. */
export function insertRig(
  store: Store,
  studyId: string,
  id: string,
  draft: RigDraft,
  at: string,
): void {
  store.transaction((tx) => {
    const last = tx
      .select({ position: max(studyRigs.position) })
      .from(studyRigs)
      .where(eq(studyRigs.studyId, studyId))
      .get();
    tx.insert(rigs)
      .values({ id, ...toRow(draft), createdAt: at })
      .run();
    tx.insert(studyRigs)
      .values({ studyId, rigId: id, position: (last?.position ?? -1) + 1 })
      .run();
  });
}

export function updateRig(store: Store, id: string, draft: RigDraft): boolean {
  return store.update(rigs).set(toRow(draft)).where(eq(rigs.id, id)).run().changes > 0;
}

/** Takes a rig out of the database for good, where no run was made with it. */
export function deleteRig(store: Store, id: string): void {
  const run = store.select().from(measurements).where(eq(measurements.rigId, id)).get();
  store.delete(studyRigs).where(eq(studyRigs.rigId, id)).run();
  if (!run) store.delete(rigs).where(eq(rigs.id, id)).run();
}

/** Every part that stands in a rig. */
export const usedParts = (store: Store): string[] =>
  store
    .select()
    .from(rigs)
    .all()
    .map(fromRow)
    .flatMap(({ partIds, besideIds, otherIds }) => [...partIds, ...besideIds, ...otherIds]);

/** Where a rig stands: in which study, and at which place in the order of its letters. */
export interface RigPlace {
  studyId: string;
  position: number;
}

/** Takes a rig out of its study; its runs stay. @returns where it stood; null where it stood nowhere */
export function removeRig(store: Store, rigId: string): RigPlace | null {
  const [row] = store.delete(studyRigs).where(eq(studyRigs.rigId, rigId)).returning().all();
  return row ? { studyId: row.studyId, position: row.position } : null;
}

/** Puts a rig that stands in no study back where it stood. @returns false where there is no such rig or study */
export function restoreRig(store: Store, rigId: string, { studyId, position }: RigPlace): boolean {
  const known = store.select({ id: rigs.id }).from(rigs).where(eq(rigs.id, rigId)).get();
  if (!known || !getStudy(store, studyId) || studyOfRig(store, rigId)) return false;
  store.insert(studyRigs).values({ studyId, rigId, position }).run();
  return true;
}

/** The study in which a rig was measured; null where it was in none. */
export function measuredIn(store: Store, rigId: string): string | null {
  const row = store.select().from(measurements).where(eq(measurements.rigId, rigId)).get();
  return row?.studyId ?? null;
}

/** The study a rig is in, by rig. */
export function studyOfRig(store: Store, rigId: string): string | null {
  const row = store.select().from(studyRigs).where(eq(studyRigs.rigId, rigId)).get();
  return row?.studyId ?? null;
}
