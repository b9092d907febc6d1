import { randomUUID } from "node:crypto";
import * as z from "zod";
import type { Rig } from "@/core/chain/rig";
import type { Store } from "@/store/database";
import * as partRows from "@/store/parts";
import * as measurementRows from "@/store/measurements";
import * as studyRows from "@/store/studies";
import { checked, Problem } from "../problem";
import { openStudy } from "../studies/studies";

/** What was taken in at once, so that it can be undone at once. */
export interface Taken {
  measurementIds: string[];
  rigIds: string[];
  partIds: string[];
}

/** What was taken in lately, by the name under which it can be undone: nothing else is ever taken back. */
interface Remembered {
  studyId: string;
  taken: Taken;
}
const shared = globalThis as { nerritTaken?: Map<string, Remembered> };
const lately = (shared.nerritTaken ??= new Map<string, Remembered>());
const MOST_REMEMBERED = 200;

/** What was taken in, with the name by which it is undone. */
export type Undoable = Taken & { undo: string };

/** Remembers what was taken in, so that it can be undone until the server ends. */
export function undoable(studyId: string, taken: Taken): Undoable {
  const undo = randomUUID();
  lately.set(undo, { studyId, taken });
  for (const old of lately.keys()) if (lately.size > MOST_REMEMBERED) lately.delete(old);
  return { ...taken, undo };
}

const Undo = z.object({ undo: z.string() });

/**
 * Takes back what was taken in: its runs, and the rigs and parts made for them. A rig that was measured
 * since stays, with its parts.
 *
 * @returns names of the rigs that stay
 */
export function untake(store: Store, studyId: string, input: unknown): { stay: string[] } {
  const { undo } = checked(Undo, input);
  const found = lately.get(undo);
  if (!found || found.studyId !== studyId)
    throw new Problem(422, "This cannot be undone any more: remove its runs one by one.");
  const { measurementIds, rigIds, partIds } = found.taken;
  const stay: string[] = [];
  store.transaction(() => {
    measurementRows.deleteMeasurements(store, measurementIds);
    const measured = new Set(
      measurementRows.measurementsOfStudy(store, studyId).map((one) => one.rigId),
    );
    for (const { id, name } of studyRows.rigsById(store, rigIds)) {
      if (measured.has(id)) stay.push(name);
      else if (studyRows.studyOfRig(store, id) === studyId) studyRows.deleteRig(store, id);
    }
    const used = new Set(studyRows.usedParts(store));
    partRows.deleteParts(
      store,
      partIds.filter((id) => !used.has(id)),
    );
  });
  lately.delete(undo);
  return { stay };
}

/** @throws Problem where a study has no such rig */
export function rigOfStudy(store: Store, studyId: string, rigId: string): Rig {
  const rig = openStudy(store, studyId).rigs.find(({ id }) => id === rigId);
  if (!rig)
    throw new Problem(422, "Choose a rig of this study.", [
      { path: "rigId", message: "choose a rig" },
    ]);
  return rig;
}
