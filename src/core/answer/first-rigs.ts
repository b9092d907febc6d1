import type { LetteredRig } from "./lettered-rig";

/** More rigs than these are not taken in at a glance, and make a page slow. */
export const AT_FIRST = 30;

/** Comes after every efficiency. */
const UNSEEN = 2;

/**
 * The rigs of a large study that are looked at first: those that lose most against their ceiling, then
 * those that nothing was seen of yet. They stay in the study's order.
 */
export function firstRigs(rigs: readonly LetteredRig[], most = AT_FIRST): LetteredRig[] {
  const order = (one: LetteredRig) => one.finding?.efficiency ?? (one.observation ? 1 : UNSEEN);
  const first = new Set(rigs.toSorted((a, b) => order(a) - order(b)).slice(0, most));
  return rigs.filter((one) => first.has(one));
}
