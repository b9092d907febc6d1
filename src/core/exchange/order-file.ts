import { programOf, defineFrom, type Drill } from "../drills/drill";
import type { TargetFacts } from "../drills/parameter";
import { spanOf, leastSeconds } from "../run/program";

/**
 * An order for the program that measures without Nerrit (src/engine/native/elsewhere/order.h): which drills,
 * already taken apart into steps (docs/formats.md).
 */

/** The drills that the program does, in the order in which they are offered. */
export const DRILLS_ELSEWHERE = [
  "haul",
  "scatter",
  "stride-ladder",
  "depth-ladder",
  "long-fill",
  "traverse",
  "proof",
  "rest-and-return",
  "ferry",
] as const;

/** Idle time before each further repeat and measurement, seconds: a write cache begins to clear. */
const REST_SECONDS = 5;

/** What is ordered. */
export interface Ordered {
  /** The rig's name, as the run file will call it. */
  rig: string;
  drills: readonly Drill[];
  /** Which way the other end of a copy lies, where there is one. */
  other: OtherEnd | null;
}

/** A second folder there: copied from, or copied to. */
export type OtherEnd = "from" | "to";

/** What a drill comes to there; a copy has two ends where its other end lies the way that it goes. */
const programElsewhere = (drill: Drill, other: OtherEnd | null) =>
  programOf(drill, other === (drill.direction === "write" ? "from" : "to") ? 2 : 1);

/**
 * A drill with its usual settings on a drive elsewhere.
 *
 * @param room bytes that may be taken up there; null where nobody said
 */
export function drillElsewhere(asked: object, room: number | null): Drill {
  const facts: TargetFacts | null =
    room === null ? null : { kind: "directory", room, smallestBlock: null, cache: null };
  return defineFrom(asked, facts);
}

/** The order as the text of its file. */
export function orderFile({ rig, drills, other }: Ordered): string {
  const measurements = drills.map((drill) => ({ drill, program: programElsewhere(drill, other) }));
  const order = {
    format: "nerrit-order",
    version: 1,
    rig,
    io: "direct",
    reserve: null,
    restSeconds: REST_SECONDS,
    measurements,
  };
  return `${JSON.stringify(order, null, 1)}\n`;
}

/** What an order asks of a machine: seconds at least, and the longest scratch file in bytes. */
export function orderNeeds({ drills, other }: Omit<Ordered, "rig">): {
  seconds: number;
  bytes: number;
} {
  const each = drills.map((drill) => ({
    program: programElsewhere(drill, other),
    repeats: drill.repeats,
  }));
  const runs = each.reduce((sum, { repeats }) => sum + repeats, 0);
  return {
    seconds:
      each.reduce((sum, { program, repeats }) => sum + repeats * leastSeconds(program), 0) +
      REST_SECONDS * Math.max(0, runs - 1),
    bytes: Math.max(0, ...each.map(({ program }) => spanOf(program))),
  };
}
