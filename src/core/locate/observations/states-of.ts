import { isHostFull } from "../../run/host-load";
import { isCoreFull } from "../../run/full-core";
import { lastingStates } from "../../study/drive-state";
import { slowSideOf } from "./copy-sides";
import type { Observation } from "./observation";
import { HOT_START, type RunState } from "../hypotheses/run-state";

/** The states that one of an observation's repeats began in. @param i which of them */
export function statesOf(
  { drill, rig, results = [], hostBusy = [], circumstances }: Observation,
  i: number,
): readonly RunState[] {
  const result = results[i];
  const hot = (result?.startCelsius ?? 0) >= HOT_START;
  const writes = drill.direction === "write";
  const slow = result && rig.other.length === 0 ? slowSideOf([result]) : null;
  const outside = slow && slow.side === (writes ? "from" : "to");
  return [
    ...(hot ? (["temperature"] as const) : []),
    ...(writes ? lastingStates(circumstances?.conditions) : []),
    ...(result && isCoreFull(result) && hostBusy[i] ? (["processor"] as const) : []),
    ...(result?.farHost && isHostFull(result.farHost) ? (["farProcessor"] as const) : []),
    ...(outside ? ([writes ? "copySource" : "copyTarget"] as const) : []),
  ];
}
