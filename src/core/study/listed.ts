import { titleOf } from "../drills/drill";
import type { DrillDirection } from "../drills/kind";
import type { RunStatus } from "../drills/request";
import type { Circumstances } from "./condition-rows";
import { counts, targetsOf, type BriefMeasurement, type Origin } from "./measurement";

/** A measurement as a list shows it: without its trace, its results and its conditions. */
export interface Listed {
  id: string;
  rigId: string;
  rigName: string;
  drill: string;
  direction: DrillDirection;
  targets: string[];
  createdAt: string;
  status: RunStatus;
  origin: Origin;
  warmUp: boolean;
  /** Of each finished run that counts, MB/s. */
  means: number[];
  /** How many finished runs the tester left out. */
  leftOut: number;
}

export const listed = (one: BriefMeasurement): Listed => ({
  id: one.id,
  rigId: one.rigId,
  rigName: one.rig.name,
  drill: titleOf(one.drill),
  direction: one.drill.direction,
  targets: targetsOf(one),
  createdAt: one.createdAt,
  status: one.status,
  origin: one.origin,
  warmUp: one.warmUp,
  means: one.runs.filter(counts).flatMap(({ result }) => result?.meanMBps ?? []),
  leftOut: one.runs.filter(({ result, leftOut }) => result !== null && leftOut !== null).length,
});

/**
 * The run whose conditions another is held against: the one before it of the same drill, else the one
 * before it.
 *
 * @param measurements of the study, the latest first
 * @returns null where there is none that could be
 */
export function runBefore(
  shown: BriefMeasurement,
  measurements: readonly BriefMeasurement[],
): (Circumstances & { of: Listed }) | null {
  const at = measurements.findIndex(({ id }) => id === shown.id);
  const earlier = measurements.slice(at + 1);
  const alike = (one: BriefMeasurement) =>
    one.origin === shown.origin && !one.warmUp && one.conditions !== null;
  const found =
    earlier.find((one) => alike(one) && one.drill.name === shown.drill.name) ?? earlier.find(alike);
  if (!found) return null;
  return { of: listed(found), conditions: found.conditions, stated: found.stated };
}
