import type { Direction } from "../units/rate";
import { requestsKey } from "../drills/shape";
import type { Rig } from "../chain/rig";
import { USUAL_OPINION, type Opinion } from "./hypotheses/opinion";
import type { Trial } from "./likelihood/trial";
import { trialsOf } from "./likelihood/trials";
import type { Observation } from "./observations/observation";
import { nearest, observedWith, pooled } from "./observations/pooled";
import { causesOf, type Cause } from "./posterior/explanation";
import { posteriorOf, type Posterior } from "./posterior/posterior";
import { signaturesIn } from "./posterior/signature";
import { isAboveCeiling } from "./too-fast";

/** What was seen by alike requests in one direction, weighed together. */
export interface Weighed {
  posterior: Posterior;
  /** Trials that speak of parts. */
  sound: readonly Trial[];
  /** Trials that memory may have answered: they say nothing of any part. */
  memory: readonly Trial[];
}

/**
 * What was seen, by what can be held against each other: alike requests in one direction. What reads and
 * writes at once is in none.
 */
export function byRequests(observations: readonly Observation[]): Observation[][] {
  const groups = new Map<string, Observation[]>();
  for (const one of observations) {
    if (one.drill.direction === "mixed") continue;
    const key = `${requestsKey(one.drill)} ${one.drill.direction}`;
    const alike = groups.get(key);
    if (alike) alike.push(one);
    else groups.set(key, [one]);
  }
  return [...groups.values()];
}

/**
 * Weighs what was seen by alike requests in one direction.
 *
 * @param all what was seen by other requests and in the other direction too
 * @returns null where nothing of it can be weighed
 */
export function weigh(
  alike: readonly Observation[],
  all: readonly Observation[],
  opinion: Opinion,
): Weighed | null {
  const direction = alike[0]!.drill.direction as Direction;
  // What memory may have answered shows nothing of any part.
  const isDoubtful = (one: Observation) => one.doubtful || isAboveCeiling(one, direction);
  const doubtful = alike.filter(isDoubtful);
  const seen = pooled(alike.filter((one) => !isDoubtful(one)));
  const posterior = posteriorOf(
    seen.length > 0 ? seen : pooled(doubtful),
    direction,
    opinion,
    signaturesIn(alike, all, direction),
  );
  if (!posterior) return null;
  return seen.length > 0
    ? {
        posterior,
        sound: posterior.trials,
        memory: trialsOf(pooled(doubtful), direction, posterior.grid, opinion),
      }
    : { posterior, sound: [], memory: posterior.trials };
}

/**
 * Which trial says what holds a rig back: of one set-up in several states of its drive the slowest.
 *
 * @returns its place in the list; -1 where there is none
 */
export function slowestOf(trials: readonly Trial[], rig: Rig): number {
  let found = -1;
  trials.forEach((one, t) => {
    if (!observedWith(one.rig, rig)) return;
    if (found < 0 || one.median < trials[found]!.median) found = t;
  });
  return found;
}

/** What may hold back the rig of an observation, the likeliest first; empty where it says nothing of parts. */
export type Weighing = (seen: Observation) => readonly Cause[];

/**
 * Answers what may hold single rigs back, by the same weights as `locate`, without looking for what to do
 * next. What is weighed together is weighed once, when it is first asked for.
 */
export function weighing(
  observations: readonly Observation[],
  opinion: Opinion = USUAL_OPINION,
): Weighing {
  const groups = byRequests(observations);
  const weighed = new Map<readonly Observation[], Weighed | null>();
  return (seen) => {
    const near = nearest(seen, groups.find((alike) => alike.includes(seen)) ?? []);
    if (near.length === 0) return [];
    if (!weighed.has(near)) weighed.set(near, weigh(near, observations, opinion));
    const found = weighed.get(near)!;
    const at = found ? slowestOf(found.sound, seen.rig) : -1;
    return at < 0 ? [] : causesOf(found!.posterior, at);
  };
}
