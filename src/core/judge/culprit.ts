import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { isAlike } from "../drills/shape";
import { posteriorOf, type Posterior } from "../locate/posterior/posterior";
import { causesOf, placeKey } from "../locate/posterior/explanation";
import { USUAL_OPINION, type Opinion } from "../locate/hypotheses/opinion";
import { nearest, observedWith, pooled } from "../locate/observations/pooled";
import type { Observation } from "../locate/observations/observation";
import { signaturesIn } from "../locate/posterior/signature";
import type { Direction } from "../units/rate";

/** How likely it is, by all that was seen, that a part holds a rig back: by itself, and with each neighbour. */
export interface Guilt {
  itself: number;
  /** The parts with which it may be slow while each is fine elsewhere, the likeliest first. */
  pairs: { part: Part; probability: number }[];
}

/** The guilt of a part in a rig; null where that was not looked at. */
export type Culprit = (partId: string, rig: Rig, direction: Direction) => Guilt | null;

/** From here on a part counts as located (model.md 6). */
export const LOCATED = 0.95;

/**
 * Answers for what was seen of one kind of drill, with what all others say beside. Each rig is weighed once, and only when it is asked
 * for.
 */
export function culpritIn(
  observations: readonly Observation[],
  all: readonly Observation[],
  opinion: Opinion = USUAL_OPINION,
): Culprit {
  const chances = new Map<Observation, ReadonlyMap<string, number>>();
  return (partId, rig, direction) => {
    const seen = observations.find(
      (one) => one.rig.id === rig.id && one.drill.direction === direction && !one.doubtful,
    );
    if (!seen) return { itself: 0, pairs: [] };
    const known = chances.get(seen) ?? chancesOf(seen, observations, all, direction, opinion);
    chances.set(seen, known);
    return {
      itself: known.get(placeKey({ part: partId })) ?? 0,
      pairs: [...rig.parts, ...rig.other]
        .map((part) => ({
          part,
          probability: known.get(placeKey({ between: [partId, part.id] })) ?? 0,
        }))
        .filter(({ probability }) => probability > 0)
        .toSorted((a, b) => b.probability - a.probability),
    };
  };
}

/** Probabilities by place. */
function chancesOf(
  seen: Observation,
  observations: readonly Observation[],
  all: readonly Observation[],
  direction: Direction,
  opinion: Opinion,
): Map<string, number> {
  const alike = observations.filter(
    ({ drill, doubtful }) => isAlike(drill, seen.drill) && !doubtful,
  );
  const found = new Map<string, number>();
  const near = nearest(seen, alike);
  const posterior: Posterior | null = posteriorOf(
    pooled(near),
    ...([direction, opinion, signaturesIn(near, all, direction)] as const),
  );
  // Rigs put together alike are weighed as one.
  const at = posterior?.trials.findIndex(({ rig }) => observedWith(rig, seen.rig)) ?? -1;
  if (!posterior || at < 0) return found;
  for (const { place, probability } of causesOf(posterior, at))
    found.set(place, (found.get(place) ?? 0) + probability);
  return found;
}
