import type { Drill } from "../drills/drill";
import { programOf } from "../drills/drill";
import { laidOutBytes, leastSeconds } from "../run/program";
import type { Plan, PlanStep } from "./plan";

/** Taken for laying out data where nothing of the rig is known yet: a middling link. Bytes a second. */
export const LAYING_OUT = 200e6;
/** The look before a run, and starting the measuring process. */
const AROUND_SECONDS = 2;

/** How long a run of a drill takes, seconds, before any was made. */
export function usualSeconds(drill: Drill): number {
  const program = programOf(drill);
  return AROUND_SECONDS + leastSeconds(program) + laidOutBytes(program) / LAYING_OUT;
}

/**
 * How long what is left of a plan takes, seconds: runs like those already made take as long as they
 * did. Time for hands is not in it.
 *
 * @param took seconds that a finished run took, by its step's id
 */
export function secondsLeft(
  plan: Plan,
  steps: readonly PlanStep[],
  took: ReadonlyMap<string, number>,
): number {
  const left = steps.filter(({ state }) => state === "waiting" || state === "running");
  const first = left.length === steps.length ? plan.idleSeconds : 0;
  return left.reduce(
    (sum, step) => sum + plan.coolSeconds + secondsOf(plan, steps, took, step),
    first,
  );
}

function secondsOf(
  { drills }: Plan,
  steps: readonly PlanStep[],
  took: ReadonlyMap<string, number>,
  { drill, rigId }: PlanStep,
): number {
  const alike = steps.filter((step) => step.drill === drill && took.has(step.id));
  const own = alike.filter((step) => step.rigId === rigId);
  const known = (own.length > 0 ? own : alike).map(({ id }) => took.get(id)!);
  return known.length > 0
    ? AROUND_SECONDS + known.reduce((sum, value) => sum + value, 0) / known.length
    : usualSeconds(drills[drill]!);
}
