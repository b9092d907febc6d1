import type { Rig } from "../chain/rig";
import { kindOf } from "../drills/drill";
import { summarise, type Repeats } from "../stats/repeats";
import { isOf, Origin, type Observation } from "../study/measurement";
import type { Direction } from "../units/rate";

/** What a rig has shown in one direction that a demand can be held against. */
export interface Shown {
  /** By short runs of large requests; null where there were none. */
  short: Repeats | null;
  /** The most that one of the short runs moved, bytes. */
  shortBytes: number;
  /** By a long run; null where there was none. */
  long: LongShown | null;
  /** What it rests on, the weightiest first. */
  from: Observation[];
}

/** The course of a long run: fast up to an edge, then what it sustained. */
export interface LongShown {
  /** MB/s until the edge. */
  burst: number;
  /** What was left in the end. */
  sustained: Repeats;
  /** Bytes until the drive's cache gave out; null where it never did. */
  edgeBytes: number | null;
}

export const NOTHING_SHOWN: Shown = { short: null, shortBytes: 0, long: null, from: [] };

/**
 * What was seen of a rig as it stands. Reading has no cache that gives out: there a short run counts as a
 * long one.
 *
 * @param observations of the study, the latest first
 */
export function shownBy(
  observations: readonly Observation[],
  rig: Rig,
  direction: Direction,
): Shown {
  const own = observations
    .filter((one) => isOf(one, rig) && one.drill.direction === direction && !one.doubtful)
    .toSorted((a, b) => Origin.options.indexOf(a.origin) - Origin.options.indexOf(b.origin));
  const of = (shows: "peak" | "sustained") =>
    own.find(({ drill }) => kindOf(drill).shows.includes(shows)) ?? null;
  const [short, long] = [of("peak"), of("sustained")];
  return {
    short: short?.repeats ?? null,
    shortBytes: Math.max(0, ...(short?.results.map(({ bytes }) => bytes) ?? [])),
    long: long ? courseOf(long) : short && direction === "read" ? flat(short.repeats) : null,
    from: [long, short].flatMap((one) => one ?? []),
  };
}

const flat = (repeats: Repeats): LongShown => ({
  burst: repeats.median,
  sustained: repeats,
  edgeBytes: null,
});

/** Of several long runs the earliest edge counts: how full the drive was decides on it. */
function courseOf({ results, repeats }: Observation): LongShown {
  const steps = results.flatMap(({ first }) => first ?? []);
  if (steps.length === 0) return flat(repeats);
  const edges = steps.flatMap(({ edgeBytes }) => edgeBytes ?? []);
  return {
    burst: summarise(steps.map(({ burstMBps }) => burstMBps)).median,
    sustained: summarise(steps.map(({ sustainedMBps }) => sustainedMBps)),
    edgeBytes: edges.length > 0 ? Math.min(...edges) : null,
  };
}
