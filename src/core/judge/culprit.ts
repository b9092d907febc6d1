import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { Observation } from "../locate/observations/observation";
import { placeKey } from "../locate/posterior/explanation";
import type { Weighing } from "../locate/weigh";
import type { Direction } from "../units/rate";

/** How likely it is, by all that was seen, that a part holds a rig back: by itself, and with each neighbour. */
export interface Guilt {
  itself: number;
  /** The parts with which it may be slow while each is fine elsewhere, the likeliest first. */
  pairs: { part: Part; probability: number }[];
}

/** The guilt of a part in a rig; null where that was not looked at. */
export type Culprit = (partId: string, rig: Rig, direction: Direction) => Guilt | null;

/** From here on a part counts as located (docs/model.md, 6). */
export const LOCATED = 0.95;

/**
 * Answers for what was seen of one kind of drill.
 *
 * @param observations of that kind
 * @param causesOf what may hold each of them back
 */
export const culpritIn =
  (observations: readonly Observation[], causesOf: Weighing): Culprit =>
  (partId, rig, direction) => {
    const seen = observations.find(
      (one) => one.rig.id === rig.id && one.drill.direction === direction && !one.doubtful,
    );
    const chances = new Map<string, number>();
    for (const { place, probability } of seen ? causesOf(seen) : [])
      chances.set(place, (chances.get(place) ?? 0) + probability);
    return {
      itself: chances.get(placeKey({ part: partId })) ?? 0,
      pairs: [...rig.parts, ...rig.other]
        .map((part) => ({
          part,
          probability: chances.get(placeKey({ between: [partId, part.id] })) ?? 0,
        }))
        .filter(({ probability }) => probability > 0)
        .toSorted((a, b) => b.probability - a.probability),
    };
  };
