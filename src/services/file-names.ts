import { dayOfFile, fileName } from "@/core/units/file-name";
import type { Store } from "@/store/store";
import { studyOfMeasurement } from "./conclusions/comparison";
import { measurement, openStudy } from "./studies/studies";

const today = (): string => dayOfFile(new Date().toISOString());

/** The name of a study's file, or of its report: title, what it is, day. @throws Problem 404 */
export const studyFileName = (store: Store, studyId: string, ...what: string[]): string =>
  fileName(openStudy(store, studyId).study.title, ...what, today());

/** The name of a run's file: study, rig, drill and direction, day of the run. @throws Problem 404 */
export function runFileName(store: Store, id: string): string {
  const { rigId, drill, createdAt } = measurement(store, id);
  const studyId = studyOfMeasurement(store, id);
  const open = studyId === null ? null : openStudy(store, studyId);
  const rig = open?.rigs.find((one) => one.id === rigId)?.name ?? "";
  return fileName(
    open?.study.title ?? "",
    rig,
    `${drill.name} ${drill.direction}`,
    dayOfFile(createdAt),
  );
}
