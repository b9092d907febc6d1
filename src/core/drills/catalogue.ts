import type { DrillKind, Shows } from "./kind";
import { CONVOY } from "./kinds/convoy";
import { DEPTH_LADDER } from "./kinds/depth-ladder";
import { ENCORE } from "./kinds/encore";
import { FERRY } from "./kinds/ferry";
import { HAUL } from "./kinds/haul";
import { LONG_FILL } from "./kinds/long-fill";
import { OUTCOME } from "./kinds/outcome";
import { PROOF } from "./kinds/proof";
import { REST_AND_RETURN } from "./kinds/rest-and-return";
import { roundOf } from "./kinds/round";
import { SCATTER } from "./kinds/scatter";
import { STRIDE_LADDER } from "./kinds/stride-ladder";
import { TRAVERSE } from "./kinds/traverse";
import { WATCHED } from "./kinds/watched";
import { settle } from "./settle";

/** What a Round may be put together from. */
export const SINGLE: readonly DrillKind[] = [
  HAUL,
  SCATTER,
  STRIDE_LADDER,
  DEPTH_LADDER,
  LONG_FILL,
  TRAVERSE,
  FERRY,
  PROOF,
  REST_AND_RETURN,
];

const ROUND = roundOf(SINGLE, (kind, { set }, facts) => settle(kind, set, facts));

/** Every drill, in the order in which they are listed. */
export const DRILLS: readonly DrillKind[] = [
  ...SINGLE.slice(0, 7),
  CONVOY,
  ...SINGLE.slice(7),
  ROUND,
  ENCORE,
];

/** The everyday drill, where none is asked for. */
export const USUAL_DRILL = HAUL;

/** Looks up a drill that can be done by its name; null where there is none such. */
export const findDrill = (name: string): DrillKind | null =>
  DRILLS.find((kind) => kind.name === name) ?? null;

/** The drill that shows something of what it passes: of several the everyday one. */
export const drillShowing = (what: Shows): DrillKind =>
  DRILLS.find(({ shows }) => shows.includes(what))!;

/** The ladder that goes up by block, or by depth. */
export const ladderBy = (by: "block" | "depth"): DrillKind =>
  DRILLS.find(({ picture }) => picture === `by ${by}`)!;

/** What is no drill, but stands in a study as one does. */
const NO_DRILLS: readonly DrillKind[] = [WATCHED, OUTCOME];

/** Whether a run may be of it: a drill, what was watched, or that a rig does not work. */
export const isKind = (name: string): boolean =>
  findDrill(name) !== null || NO_DRILLS.some((kind) => kind.name === name);

/**
 * The kind of what a run holds: a drill, what was watched, or that a rig does not work.
 *
 * @throws RangeError where there is none such
 */
export function drillNamed(name: string): DrillKind {
  const found = NO_DRILLS.find((kind) => kind.name === name) ?? findDrill(name);
  if (!found) {
    throw new RangeError(
      `there is no drill "${name}"; there are ${DRILLS.map((kind) => kind.name).join(", ")}`,
    );
  }
  return found;
}
