import type { Rig } from "@/core/chain/rig";
import { MeasureRequest } from "@/core/drills/request";
import { linkProblems } from "@/core/locate/narrows";
import type { Bench } from "./bench";
import { orderFor } from "./order";
import { checked, Problem } from "./problem";
import { findRig } from "./studies";

/**
 * Begins a measurement of a rig.
 *
 * @returns its id, once the measuring process has accepted it
 * @throws Problem where the input, the rig or the target will not do
 */
export async function beginMeasurement(
  { store, desk }: Bench,
  rigId: string,
  input: unknown,
): Promise<string> {
  const request = checked(MeasureRequest, { ...(input as object), rigId });
  const { studyId, rig } = findRig(store, rigId);
  const order = await orderFor(request, cacheOf(rig));
  const [problem] = linkProblems(rig);
  if (problem) throw new Problem(422, `${rig.name} ${problem}.`);
  return desk.begin(studyId, rig, order, request);
}

/** The write cache of a rig's drive, as stated on the shelf. */
export const cacheOf = (rig: Rig): number | null => rig.parts.at(-1)?.cacheBytes ?? null;
