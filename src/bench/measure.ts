import { linkProblems } from "@/core/locate/narrows";
import { MeasureRequest } from "@/core/drills/request";
import type { Bench } from "./bench";
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
  if (request.span < request.block) {
    throw new Problem(422, "span: must be at least one block", [
      { path: "span", message: "must be at least one block" },
    ]);
  }
  const [problem] = linkProblems(rig);
  if (problem) throw new Problem(422, `${rig.name} ${problem}.`);
  return desk.begin(studyId, rig, request);
}
