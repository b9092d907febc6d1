import { isSameName } from "../units/host-name";
import { BARE_RIG, type Rig } from "../chain/rig";
import { requestsKey, shapeOf } from "../drills/shape";
import type { Observation } from "../study/measurement";
import { withoutRun } from "../study/without-run";
import { shownTo, type MachineCheck } from "./check";
import { memoryPart } from "./memory-part";

/**
 * What machines were shown to move in their own memory, as observations beside those of rigs on them: by the same
 * requests, in the same way. It clears the machine up to that; beyond it nothing is known.
 *
 * @param seen of rigs with parts of their own
 * @param checks of each machine the latest
 */
export function checksSeen(
  seen: readonly Observation[],
  checks: readonly MachineCheck[],
): Observation[] {
  const found = new Map<string, Observation>();
  for (const { rig, drill, origin } of checks.length > 0 ? seen : []) {
    const { direction } = drill;
    const shape = shapeOf(drill);
    const check = checks.find(({ machine }) => isSameName(machine, rig.host));
    if (!shape || !check || direction === "mixed" || origin === "simulated") continue;
    const repeats = shownTo(check, shape, direction);
    const key = [check.machine, requestsKey(drill), direction].join("|");
    if (!repeats || found.has(key)) continue;
    found.set(key, withoutRun(memoryRig(check.machine, repeats.median), drill, repeats));
  }
  return [...found.values()];
}

/** A machine's memory in place of a drive: what it gave is all that is known of it. */
function memoryRig(machine: string, mbps: number): Rig {
  return {
    ...BARE_RIG,
    id: `check ${machine}`,
    name: `Memory of ${machine}`.slice(0, 80),
    host: machine,
    parts: [
      memoryPart("host-port", `memory bus of ${machine}`, "down", mbps),
      memoryPart("drive", `memory of ${machine}`, "up", mbps),
    ],
  };
}
