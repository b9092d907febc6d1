import type { Rig } from "../chain/rig";
import type { Stage } from "../chain/stage";
import { shapeOf } from "../drills/shape";
import type { Drill } from "../drills/drill";
import { isSameName } from "../units/host-name";
import type { Direction } from "../units/rate";
import { shownTo, type MachineCheck } from "./check";
import { memoryPart } from "./memory-part";

/** What a machine was shown to carry without any drive: at least that; how much more is not known. */
export interface MachineShown {
  machine: string;
  /** MB/s */
  mbps: number;
}

/**
 * What a rig's host was shown to carry by the requests of a drill. What the rig itself has given, its host has
 * carried, too.
 *
 * @param checks of each machine the latest
 * @param drill of one way; another one shows nothing
 * @param seen what the rig gave, MB/s; null where it was not measured
 */
export function machineShown(
  checks: readonly MachineCheck[],
  { host }: Pick<Rig, "host">,
  drill: Drill,
  seen: number | null,
): MachineShown | null {
  const check = host && checks.find(({ machine }) => isSameName(machine, host));
  const shape = check && drill.direction !== "mixed" ? shapeOf(drill) : null;
  if (!check || !shape) return null;
  const repeats = shownTo(check, shape, drill.direction as Direction);
  return repeats && { machine: check.machine, mbps: Math.max(repeats.median, seen ?? 0) };
}

/** The figure of a stage as it is written; of a host only the least is known. */
export const ceilingText = (
  { role, ceiling }: Pick<Stage, "role" | "ceiling">,
  rate: (mbps: number) => string,
): string => `${role === "host" ? "≥ " : ""}${rate(ceiling)}`;

/** The lowest ceiling of some stages, MB/s; a host's is not known. */
export const lowestOf = (stages: readonly (Stage | null)[]): number =>
  Math.min(...stages.flatMap((stage) => (stage && stage.role !== "host" ? stage.ceiling : [])));

/** The machine as the first stage of a drawing, before its port. */
export function machineStage({ machine, mbps }: MachineShown, direction: Direction): Stage {
  return {
    key: `machine:${machine}`,
    part: memoryPart("host-port", machine, "down", mbps),
    place: 0,
    role: "host",
    label: machine,
    direction,
    ceiling: mbps,
    attainable: { low: mbps, high: mbps },
    own: mbps,
    held: 0,
    cause: { kind: "limit" },
    holds: false,
  };
}
