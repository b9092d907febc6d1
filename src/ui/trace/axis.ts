import type { OpenTrace } from "@/core/study/open-trace";
import { inUnit, type RateUnit } from "@/core/units/rate";
import type { Place } from "@/core/reading/reduce";

/** What a trace is drawn against, and what of it. */
export const AXES = {
  time: "rate over time",
  bytes: "rate over bytes",
  sum: "bytes moved over time",
  ops: "requests over time",
} as const;
export type Axis = keyof typeof AXES;

/** Where several runs are laid over each other. */
export const ALIGNMENTS = { start: "at their beginning", edge: "at the cache’s edge" } as const;
export type Alignment = keyof typeof ALIGNMENTS;

/** Where a run's zero is, in the unit of its axis: milliseconds, or bytes. */
export function zeroOf({ reading, startMs }: OpenTrace, axis: Axis, alignment: Alignment): number {
  const edge = alignment === "edge" ? reading?.cacheEdge : null;
  if (axis === "bytes") return edge?.bytes ?? 0;
  return startMs + (edge?.ms ?? 0);
}

/** A place on its axis, from its own zero: seconds, or GB. */
export const placeOf = (place: Place, axis: Axis, zero: number): number =>
  axis === "bytes" ? (place.bytes - zero) / 1e9 : (place.toMs - zero) / 1e3;

/** What stands beside the axis. */
export const AXIS_NAMES: Record<Axis, string> = {
  time: "seconds",
  bytes: "GB moved",
  sum: "seconds",
  ops: "seconds",
};

/** How a mean rate is drawn on an axis: in its unit, or as requests of one size a second. */
export const heightOf = (
  mbps: number,
  axis: Axis,
  unit: RateUnit,
  { smallBlock }: Pick<OpenTrace, "smallBlock">,
): number =>
  axis === "ops" && smallBlock !== null ? (mbps * 1e6) / smallBlock : inUnit(mbps, unit);
