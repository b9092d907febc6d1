import type { PlanRequest } from "./plan";

/**
 * The drills of the everyday plan: Haul, and Scatter one at a time and many in flight, each both ways. With
 * three repeats of ten seconds each it takes some six minutes a rig, which shows what a rig carries, what
 * a waiting program feels and what a busy one gets.
 */
export const EVERYDAY_DRILLS: PlanRequest["drills"] = [
  { name: "haul", direction: "read" },
  { name: "haul", direction: "write" },
  { name: "scatter", direction: "read", depth: 1 },
  { name: "scatter", direction: "write", depth: 1 },
  { name: "scatter", direction: "read" },
  { name: "scatter", direction: "write" },
];
