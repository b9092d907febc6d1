import { stagesOf } from "../../../chain/stages";
import { requestsKey } from "../../../drills/shape";
import { IN_MB } from "../../../units/number";
import { DOING, type Direction } from "../../../units/rate";
import { designed } from "../../../chain/designed";
import { observedWith } from "../pooled";
import type { Observation } from "../observation";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/**
 * How often each cause holds the other direction back too. Links and plugs know no direction; what
 * writes and what reads inside a drive are two things; a file system may cost either way. What is on no
 * list does so as often as not.
 */
const CHANCES: Record<string, number> = {
  "dropped-mode": 0.97,
  pairing: 0.85,
  fault: 0.85,
  "drive fault": 0.5,
  "own-limit": 0.75,
  "enclosure own-limit": 0.65,
  "drive own-limit": 0.3,
  fileSystem: 0.45,
  transport: 0.85,
  host: 0.6,
  bay: 0.9,
  temperature: 0.9,
  fill: 0.1,
  writeCache: 0.05,
};
const AS_OFTEN_AS_NOT = 0.5;

/** That a rig is held back in the other direction too. */
export const BOTH_WAYS: Sign = {
  chance: (site, kind) => CHANCES[causeKey(site, kind)] ?? CHANCES[kind] ?? AS_OFTEN_AS_NOT,
  otherwise: AS_OFTEN_AS_NOT,
};

/** Below this share of what good hardware attains a rig is held back; above the other it is not. */
const [HELD, FREE] = [0.8, 0.93];

/** Whether the other direction of a slow rig is held back as well, where it was measured. */
export function otherWay(
  slow: Observation,
  all: readonly Observation[],
  direction: Direction,
): Signature[] {
  const back: Direction = direction === "read" ? "write" : "read";
  if (shareOf(slow, direction) >= HELD) return [];
  const other = all.find(
    (one) =>
      requestsKey(one.drill) === requestsKey(slow.drill) &&
      one.drill.direction === back &&
      observedWith(one.rig, slow.rig),
  );
  const share = other ? shareOf(other, back) : null;
  if (!other || share === null || (share >= HELD && share < FREE)) return [];
  const held = share < HELD;
  const text = `${slow.rig.name || "The rig"} is ${held ? "limited" : "as it should be"} ${DOING[back]} (${IN_MB.said(other.repeats.median)}).`;
  return [signature(BOTH_WAYS, slow.rig, held, { text, measurementIds: other.measurementIds })];
}

/** Of what good hardware attains at least, how much was seen. */
function shareOf({ rig, repeats }: Observation, direction: Direction): number {
  const attained = stagesOf(designed(rig), direction).map(({ attainable }) => attainable.low);
  return attained.length > 0 ? repeats.median / Math.min(...attained) : 1;
}
