import type { PlanRequest } from "./plan";

/**
 * The drills of the everyday plan: Haul and Scatter, both ways. With three repeats of ten seconds each
 * it takes some four minutes a rig, which shows what a rig carries and what a busy program feels.
 */
export const EVERYDAY_DRILLS: PlanRequest["drills"] = [
  { name: "haul", direction: "read" },
  { name: "haul", direction: "write" },
  { name: "scatter", direction: "read" },
  { name: "scatter", direction: "write" },
];
