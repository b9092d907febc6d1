import { and, eq } from "drizzle-orm";
import type { StudyBrief } from "@/core/answer/study-brief";
import type { RateUnit } from "@/core/units/rate";
import { studyBriefs } from "./schema";
import type { Store } from "./store";

/** A study in brief as it was kept, where it is of this version still, and can be read; null else. */
export function getStudyBrief(
  store: Store,
  studyId: string,
  unit: RateUnit,
  version: string,
): StudyBrief | null {
  const isIt = and(eq(studyBriefs.studyId, studyId), eq(studyBriefs.unit, unit));
  try {
    const found = store.select().from(studyBriefs).where(isIt).get();
    return found?.version === version ? found.brief : null;
  } catch {
    // It can always be worked out again.
    return null;
  }
}

/** Keeps a study in brief, in place of what was kept of it. */
export function putStudyBrief(
  store: Store,
  studyId: string,
  unit: RateUnit,
  kept: { version: string; brief: StudyBrief },
): void {
  store
    .insert(studyBriefs)
    .values({ studyId, unit, ...kept })
    .onConflictDoUpdate({ target: [studyBriefs.studyId, studyBriefs.unit], set: kept })
    .run();
}
