import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import { narrowsOf } from "../locate/narrows";
import type { Repeats } from "../stats/repeats";
import { Direction } from "../units/rate";
import { needOf, type Demand } from "./demand";

/**
 * Whether a rig meets a demand in one direction:
 * - met or missed, by what was measured
 * - should meet, by what its narrows attains with good hardware, where nothing was measured
 * - cannot meet: the ceiling is below the demand, measured or not
 * - can't tell: the demand lies where some hardware gets and some does not
 */
export type Fit = "met" | "missed" | "should meet" | "cannot meet" | "can't tell";

export interface DemandCheck {
  direction: Direction;
  /** What is asked, sustained MB/s. */
  need: number;
  fit: Fit;
  /** What the check rests on, MB/s: the low end of the repeats, or of what is attainable. */
  have: number;
  /** How much more than asked there is, as a share of what is asked; negative where it is less. */
  headroom: number;
}

/**
 * Checks a demand against a rig, in each direction in which it asks something.
 *
 * A drive whose own rate is not known cannot be said to meet anything before it is measured.
 *
 * @param observed what was measured through the rig in a direction, if anything
 */
export function checkDemand(
  rig: Rig,
  demand: Demand,
  observed: (direction: Direction) => Repeats | null,
): DemandCheck[] {
  return Direction.options.flatMap((direction): DemandCheck[] => {
    const need = needOf(demand, direction);
    if (need <= 0) return [];
    const check = (fit: Fit, have: number) => [
      { direction, need, fit, have, headroom: have / need - 1 },
    ];
    const repeats = observed(direction);
    if (repeats) {
      const low = repeats.interval?.low ?? repeats.median;
      const high = repeats.interval?.high ?? repeats.median;
      if (low >= need) return check("met", low);
      return check(high < need ? "missed" : "can't tell", repeats.median);
    }
    const narrows = narrowsOf(rig, direction);
    if (!narrows || narrows.ceiling < need) return check("cannot meet", narrows?.ceiling ?? 0);
    const known = stagesOf(rig, direction).every(({ cause }) => cause.kind !== "plug");
    return known && narrows.attainable.low >= need
      ? check("should meet", narrows.attainable.low)
      : check("can't tell", narrows.attainable.low);
  });
}
