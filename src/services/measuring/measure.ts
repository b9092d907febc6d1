import { MeasureRequest } from "@/core/drills/request";
import { linkProblems } from "@/core/chain/bottleneck";
import type { Store } from "@/store/database";
import type { Desk } from "./desk";
import { cacheOf } from "./cache";
import { thisMachine, type Machines } from "../hosts/machines";
import { factsAt, orderFor } from "./order";
import { checked, Problem } from "../problem";
import { findRig } from "../studies/studies";

/**
 * Begins a measurement of a rig.
 *
 * @param warmUp whether its runs count for nothing
 * @returns its id, once the measuring process has accepted it
 * @throws Problem where the input, the rig or the target will not do
 */
export async function beginMeasurement(
  { store, desk, machines = thisMachine() }: { store: Store; desk: Desk; machines?: Machines },
  rigId: string,
  input: unknown,
  warmUp = false,
): Promise<string> {
  const request = checked(MeasureRequest, { ...(input as object), rigId });
  const { studyId, rig } = findRig(store, rigId);
  const order = await orderFor(request, cacheOf(store, rig), factsAt(machines));
  const [problem] = linkProblems(rig);
  if (problem) throw new Problem(422, `${rig.name} ${problem}.`);
  return desk.begin(studyId, rig, order, request, warmUp);
}
