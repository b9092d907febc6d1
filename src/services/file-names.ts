import { dayOfFile, fileName } from "@/core/units/file-name";
import { getMeasurement } from "@/store/measurements";
import { getParts } from "@/store/parts";
import type { Store } from "@/store/store";
import { Problem } from "./problem";
import { openStudy } from "./studies/studies";

const today = (): string => dayOfFile(new Date().toISOString());

/** The name of a study's file, or of its report: title, what it is, day. @throws Problem 404 */
export const studyFileName = (store: Store, studyId: string, ...what: string[]): string =>
  fileName(openStudy(store, studyId).study.title, ...what, today());

/** The name of a part's card or sheet: the part, which of them it is, day. @throws Problem 404 */
export function partFileName(store: Store, partId: string, what: "card" | "sheet"): string {
  const part = getParts(store, [partId]).get(partId);
  if (!part) throw new Problem(404, "There is no such part.");
  return fileName(part.name, what, today());
}

/** The name of a run's file: study, rig, drill and direction, day of the run. @throws Problem 404 */
export function runFileName(store: Store, id: string): string {
  const row = getMeasurement(store, id);
  if (!row) throw new Problem(404, "There is no such measurement.");
  const { studyId, rig, drill, createdAt } = row;
  return fileName(
    openStudy(store, studyId).study.title,
    rig.name,
    `${drill.name} ${drill.direction}`,
    dayOfFile(createdAt),
  );
}
