import * as z from "zod";
import type { Rig } from "@/core/chain/rig";
import type { Store } from "@/store/database";
import * as partRows from "@/store/parts";
import * as runRows from "@/store/runs";
import * as studyRows from "@/store/studies";
import { checked, Problem } from "../problem";
import { openStudy } from "../studies";

/** What was taken in at once, so that it can be undone at once. */
export const Taken = z.object({
  measurementIds: z.array(z.string()).max(20_000),
  rigIds: z.array(z.string()).max(2000).default([]),
  partIds: z.array(z.string()).max(5000).default([]),
});
export type Taken = z.infer<typeof Taken>;

/** Takes back what was taken in: its runs, and the rigs and parts made for them. */
export function untake(store: Store, studyId: string, input: unknown): void {
  const { measurementIds, rigIds, partIds } = checked(Taken, input);
  store.transaction(() => {
    const there = measurementIds.flatMap((id) => runRows.getMeasurement(store, id) ?? []);
    if (there.some((one) => one.studyId !== studyId || !UNDONE.includes(one.origin))) {
      throw new Problem(422, "Only what was typed or imported into this study is taken back.");
    }
    runRows.deleteMeasurements(store, measurementIds);
    for (const id of rigIds)
      if (studyRows.studyOfRig(store, id) === studyId) studyRows.deleteRig(store, id);
    const used = new Set(studyRows.usedParts(store));
    partRows.deleteParts(
      store,
      partIds.filter((id) => !used.has(id)),
    );
  });
}

const UNDONE = ["typed", "imported"];

/** @throws Problem where a study has no such rig */
export function rigOfStudy(store: Store, studyId: string, rigId: string): Rig {
  const rig = openStudy(store, studyId).rigs.find(({ id }) => id === rigId);
  if (!rig)
    throw new Problem(422, "Choose a rig of this study.", [
      { path: "rigId", message: "choose a rig" },
    ]);
  return rig;
}
