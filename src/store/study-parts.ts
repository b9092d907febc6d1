import * as z from "zod";
import { Series } from "@/core/drift/series";
import { BestReading } from "@/core/study/best-reading";
import { studyParts } from "./schema";
import type { Store } from "./store";

/** What a study tells of its parts: what was measured through them, by the day, and at best. */
const Told = z.object({ series: z.array(Series), best: z.record(z.string(), BestReading) });
export type ToldOfParts = z.infer<typeof Told>;

/** The same as it is kept, and of which version of the study. */
export interface KeptToldOfParts extends ToldOfParts {
  studyId: string;
  version: string;
}

/** What is kept of all studies; a row that cannot be read is left out, as it can be worked out again. */
export function listToldOfParts(store: Store): KeptToldOfParts[] {
  const rows = store.$client
    .prepare("select study_id as studyId, version, series, best from study_parts")
    .all() as Record<"studyId" | "version" | "series" | "best", string>[];
  return rows.flatMap(({ studyId, version, series, best }) => {
    try {
      const told = Told.parse({ series: JSON.parse(series), best: JSON.parse(best) });
      return [{ studyId, version, ...told }];
    } catch {
      return [];
    }
  });
}

/** Keeps what a study tells of its parts, in place of what was kept of it. */
export function putToldOfParts(store: Store, { studyId, ...set }: KeptToldOfParts): void {
  store
    .insert(studyParts)
    .values({ studyId, ...set })
    .onConflictDoUpdate({ target: studyParts.studyId, set })
    .run();
}
