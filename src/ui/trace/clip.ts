import type { OpenTrace } from "@/core/study/open-trace";

/** A run in a clip: its name and its course. */
export interface ClipRun {
  name: string;
  trace: Pick<OpenTrace, "startMs" | "places">;
}

/** More lines than these are not followed at once. */
export const MOST_RUNS = 4;
/** How long a clip plays at most, seconds; what stands at its end is shown a while longer. */
const [PLAYS, STANDS] = [12, 1.5];
/** Speeds that are said in a word. */
const SPEEDS = [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000];

/** How a clip goes: of how much time, how much faster, and for how long. */
export interface ClipCourse {
  /** Time of the longest run, seconds. */
  seconds: number;
  speed: number;
  /** How long it plays, with the while at its end, seconds. */
  plays: number;
}

const endOf = ({ trace: { places, startMs } }: ClipRun): number =>
  ((places.at(-1)?.toMs ?? startMs) - startMs) / 1e3;

/** The least round speed at which the longest run is told in twelve seconds. */
export function courseOf(runs: readonly ClipRun[]): ClipCourse {
  const seconds = Math.max(0.1, ...runs.map(endOf));
  const speed = SPEEDS.find((each) => seconds / each <= PLAYS) ?? SPEEDS.at(-1)!;
  return { seconds, speed, plays: seconds / speed + STANDS };
}

/** The points of a run up to a time, seconds after its start, with the rate at each. */
export function pointsUntil(
  { trace: { places, startMs } }: ClipRun,
  seconds: number,
): { seconds: number; mbps: number }[] {
  return places
    .map(({ toMs, mean }) => ({ seconds: (toMs - startMs) / 1e3, mbps: mean }))
    .filter((point) => point.seconds >= 0 && point.seconds <= seconds);
}
