import { randomUUID } from "node:crypto";
import type { LogPreview, WarmthPreview } from "@/core/elsewhere/preview";
import type { Store } from "@/store/database";
import { deleteMeasurements } from "@/store/measurements";
import { deleteStudy, usedParts } from "@/store/studies";
import { deleteParts, listParts } from "@/store/parts";
import { clockOf, layWarmthOver, previewWarmth } from "../elsewhere/log-warmth";
import { rigOfStudy, type Taken } from "../elsewhere/taken";
import { insertSteps, runsToTakeIn } from "../elsewhere/runs-file";
import { insertStudySteps, type TakenStudy } from "../studies/study-file";
import { takeRecordings } from "../recordings/in-study";
import type { Services } from "../services";
import { inSlices } from "./slices";
import { inIntakeThread } from "./thread";

/** How a large input is followed and stopped. */
export interface Following {
  signal: AbortSignal;
  tell: (words: string) => void;
}

/** Shows what a log would become. */
export const lookAtLog = (bytes: Uint8Array, following: Following): Promise<LogPreview> =>
  inIntakeThread({ kind: "log-look", bytes }, following);

/** Shows how a log's temperatures would lie over a run. @throws Problem 404, 422 */
export const lookAtWarmth = async (
  store: Store,
  runId: string,
  bytes: Uint8Array,
  following: Following,
): Promise<WarmthPreview> => previewWarmth(await readWarmth(store, runId, bytes, following));

/** Lays a log's temperatures over a run. @returns how many of its readings @throws Problem 404, 422 */
export const takeWarmthIn = async (
  store: Store,
  runId: string,
  bytes: Uint8Array,
  following: Following,
): Promise<{ readings: number }> => ({
  readings: layWarmthOver(store, runId, await readWarmth(store, runId, bytes, following)),
});

const readWarmth = (store: Store, runId: string, bytes: Uint8Array, following: Following) =>
  inIntakeThread({ kind: "warmth", bytes, clock: clockOf(store, runId) }, following);

/** Takes a log in as a run. @throws Problem that names the first line that makes no sense */
export async function takeLogIn(
  store: Store,
  studyId: string,
  bytes: Uint8Array,
  following: Following,
): Promise<Taken> {
  const { rigId, kept } = await inIntakeThread({ kind: "log", bytes }, following);
  const rig = rigOfStudy(store, studyId, rigId);
  const undo = () => deleteMeasurements(store, [kept.id]);
  following.tell("storing it");
  await inSlices(store, insertSteps(store, studyId, rig, kept), { ...following, undo });
  return { measurementIds: [kept.id], rigIds: [], partIds: [] };
}

/** Takes the runs of a file in, all of them or none. @returns their identifiers */
export async function takeRunsIn(
  store: Store,
  studyId: string,
  bytes: Uint8Array,
  following: Following,
): Promise<string[]> {
  const asked = await inIntakeThread({ kind: "runs", bytes }, following);
  const { ids, steps, undo } = runsToTakeIn(store, studyId, asked);
  following.tell("storing them");
  await inSlices(store, steps, { ...following, undo });
  return ids;
}

/** Takes a study in, whole or not at all. */
export async function takeStudyIn(
  { store, recordings }: Pick<Services, "store" | "recordings">,
  bytes: Uint8Array,
  following: Following,
): Promise<TakenStudy> {
  const file = await inIntakeThread({ kind: "study", bytes }, following);
  const id = randomUUID();
  const before = new Set(listParts(store).map((part) => part.id));
  const undoRecordings = await takeRecordings(recordings, file.recordings ?? []);
  const undo = () => {
    undoRecordings();
    deleteStudy(store, id);
    const used = new Set(usedParts(store));
    const added = listParts(store).filter((part) => !before.has(part.id) && !used.has(part.id));
    deleteParts(
      store,
      added.map((part) => part.id),
    );
  };
  following.tell("storing it");
  return inSlices(store, insertStudySteps(store, file, { id, demo: false }), {
    ...following,
    undo,
  });
}
