import * as z from "zod";
import { Demand } from "@/core/study/demand";
import { References } from "@/core/study/reference";
import { StudyDraft } from "@/core/study/study";
import { lines } from "@/core/units/text";
import type { Store } from "@/store/database";
import * as studies from "@/store/studies";
import { refuseIfChanged } from "../changed";
import { checked, Problem } from "../problem";
import { toldDemands, toldReferences } from "../removed/lists";
import { noteMissing } from "../removed/note";
import { openStudy } from "./studies";

const Demands = z.array(Demand).max(12, "at most 12 demands in a study");

/** Sets what a study's drive is wanted for. @throws Problem naming what is wrong */
export function setDemands(store: Store, studyId: string, input: unknown): void {
  const demands = checked(Demands, input);
  const { demands: before } = openStudy(store, studyId).study;
  store.transaction(() => {
    studies.updateDemands(store, studyId, demands);
    noteMissing(store, toldDemands(studyId), before, demands);
  });
}

/** Sets which rates the study's rigs are seen beside. @throws Problem naming what is wrong */
export function setReferences(store: Store, studyId: string, input: unknown): void {
  const references = checked(References, input);
  const { references: before } = openStudy(store, studyId).study;
  store.transaction(() => {
    studies.updateReferences(store, studyId, references);
    noteMissing(store, toldReferences(studyId), before, references);
  });
}

const Tolerance = StudyDraft.pick({ tolerance: true }).required();

/** Sets by how much a part may miss its claim and still deliver. @throws Problem naming what is wrong */
export function setTolerance(store: Store, studyId: string, input: unknown): void {
  const { tolerance } = checked(Tolerance, input);
  if (!studies.updateTolerance(store, studyId, tolerance)) {
    throw new Problem(404, "There is no such study.");
  }
}

const Notes = z.object({ notes: lines(20_000) });

/** Keeps what the tester notes beside a study. @throws Problem naming what is wrong */
export function setNotes(store: Store, studyId: string, input: unknown): void {
  const { notes } = checked(Notes, input);
  refuseIfChanged(input, Notes, { notes: studies.extrasOf(store, studyId).notes });
  if (!studies.updateNotes(store, studyId, notes)) {
    throw new Problem(404, "There is no such study.");
  }
}
