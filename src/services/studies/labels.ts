import * as z from "zod";
import { StudyLabels } from "@/core/study/study";
import type { Store } from "@/store/database";
import * as studies from "@/store/studies";
import { refuseIfChanged } from "../changed";
import { checked, Problem } from "../problem";

/** Sets a study's title and tags; a tag that is said twice is kept once. @throws Problem naming what is wrong */
export function setLabels(store: Store, studyId: string, input: unknown): void {
  const { title, tags } = checked(StudyLabels, input);
  const study = studies.getStudy(store, studyId);
  if (!study) throw new Problem(404, "There is no such study.");
  refuseIfChanged(input, StudyLabels, { title: study.title, tags: study.tags ?? [] });
  studies.updateLabels(store, studyId, { title, tags: [...new Set(tags)] });
}

const Aside = z.object({ aside: z.boolean() });

/** Sets a study aside, or brings it back. @throws Problem where there is none, or where it is sample data */
export function setStudyAside(store: Store, studyId: string, input: unknown): void {
  const { aside } = checked(Aside, input);
  const study = studies.getStudy(store, studyId);
  if (!study) throw new Problem(404, "There is no such study.");
  if (study.simulated)
    throw new Problem(422, "The sample studies stay together on the first page.");
  studies.setAside(store, studyId, aside ? new Date().toISOString() : null);
}
