import * as z from "zod";
import { Series } from "@/core/drift/series";
import { studySeries } from "./schema";
import type { Store } from "./store";

/** What a study tells of drift, and of which version of it. */
export interface KeptSeries {
  studyId: string;
  version: string;
  series: Series[];
}

const Kept = z.array(Series);

/** What is kept of all studies; a row that cannot be read is left out, as it can be worked out again. */
export function listStudySeries(store: Store): KeptSeries[] {
  const rows = store.$client
    .prepare("select study_id, version, series from study_series")
    .all() as Record<"study_id" | "version" | "series", string>[];
  return rows.flatMap(({ study_id, version, series }) => {
    try {
      return [{ studyId: study_id, version, series: Kept.parse(JSON.parse(series)) }];
    } catch {
      return [];
    }
  });
}

/** Keeps what a study tells of drift, in place of what was kept of it. */
export function putStudySeries(store: Store, kept: KeptSeries): void {
  const { studyId, ...set } = kept;
  store
    .insert(studySeries)
    .values({ studyId, ...set })
    .onConflictDoUpdate({ target: studySeries.studyId, set })
    .run();
}
