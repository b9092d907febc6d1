import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stages";
import { bottleneckOf } from "../chain/bottleneck";
import type { Repeats } from "../stats/repeats";
import { Direction } from "../units/rate";
import { copyRate, flowOf, type Demand } from "../study/demand";
import type { LongShown, Shown } from "./shown";

/**
 * Whether a rig meets a demand in one direction:
 * - met or missed, by what was measured
 * - open: a short run is fast enough, and a long one would tell whether that lasts
 * - should meet, by what its bottleneck attains with good hardware, where nothing was measured
 * - cannot meet: the ceiling is below the demand, measured or not
 * - can't tell: the demand lies where some hardware gets and some does not
 */
export type Fit = "met" | "missed" | "open" | "should meet" | "cannot meet" | "can't tell";

/** Whether a fit follows from runs, and not from the ledger alone. */
export const isMeasured = (fit: Fit): boolean =>
  fit === "met" || fit === "missed" || fit === "open";

export interface DemandCheck {
  direction: Direction;
  /** What is asked, MB/s over the whole time of the stream or copy that asks for most. */
  need: number;
  fit: Fit;
  /** What the check rests on over the same time, MB/s. */
  have: number;
  /** How much more than asked there is, as a share of what is asked; negative where it is less. */
  headroom: number;
}

/** One thing that a demand asks for: the streams together, or a copy beside them. */
interface Task {
  /** MB/s that the streams take all the time. */
  flow: number;
  /** MB/s that the copy needs beside them; 0 for the streams alone. */
  rate: number;
  /** Bytes that have to be copied; null for streams, which go on. */
  bytes: number | null;
}

/** From the worst to the best: a demand is met where its worst is. */
const RANK: readonly Fit[] = ["cannot meet", "missed", "open", "can't tell", "should meet", "met"];

/** Of several checks the one that decides; null without any. */
export const worstOf = (checks: readonly DemandCheck[]): DemandCheck | null =>
  checks.toSorted(
    (a, b) => RANK.indexOf(a.fit) - RANK.indexOf(b.fit) || a.headroom - b.headroom,
  )[0] ?? null;

/**
 * Checks a demand against a rig, in each direction in which it asks something. Streams are held against
 * what a long run sustained, copies by the time that they would take, with the cache's edge in it.
 *
 * A drive whose own rate is not known cannot be said to meet anything before it is measured.
 *
 * @param shown what was seen of the rig in a direction
 */
export function checkDemand(
  rig: Rig,
  demand: Demand,
  shown: (direction: Direction) => Shown,
): DemandCheck[] {
  return Direction.options.flatMap((direction): DemandCheck[] => {
    const checks = tasksOf(demand, direction).map((task): DemandCheck => {
      const need = task.flow + task.rate;
      const { fit, have } = byRuns(task, shown(direction)) ?? byLedger(need, rig, direction);
      return { direction, need, fit, have, headroom: have / need - 1 };
    });
    const worst = worstOf(checks);
    return worst ? [worst] : [];
  });
}

function tasksOf(demand: Demand, direction: Direction): Task[] {
  const flow = flowOf(demand, direction);
  const copies = demand.copies
    .filter((copy) => copy.direction === direction)
    .map((copy) => ({ flow, rate: copyRate(copy), bytes: copy.gigabytes * 1e9 }));
  return flow > 0 ? [{ flow, rate: 0, bytes: null }, ...copies] : copies;
}

type Found = Pick<DemandCheck, "fit" | "have">;

/** What runs say of a task; null without any. */
function byRuns(task: Task, { short, shortBytes, long }: Shown): Found | null {
  const need = task.flow + task.rate;
  const { bytes } = task;
  if (long) return held(need, (pick) => rateOver(task, long, pick), long.sustained);
  if (!short) return null;
  const found = held(need, (pick) => pick(short), short);
  // What a run moved by itself needs no longer one.
  const lasts = bytes !== null && task.flow === 0 && bytes <= shortBytes;
  return found.fit === "missed" || lasts ? found : { ...found, fit: "open" };
}

type Pick95 = (repeats: Repeats) => number;
const low: Pick95 = ({ interval, median }) => interval?.low ?? median;
const high: Pick95 = ({ interval, median }) => interval?.high ?? median;

/** @param rate that is had, by the low end, the middle or the high end of the repeats */
function held(need: number, rate: (pick: Pick95) => number, repeats: Repeats): Found {
  const least = rate(low);
  if (least >= need) return { fit: "met", have: least };
  const have = rate(() => repeats.median);
  return { fit: rate(high) < need ? "missed" : "can't tell", have };
}

/**
 * The rate over the whole time of a task: of streams what is sustained; of a copy the burst up to the
 * cache's edge, which the streams fill, too, and what is sustained after it. MB/s, the streams' included.
 */
function rateOver({ flow, bytes }: Task, long: LongShown, pick: Pick95): number {
  const sustained = pick(long.sustained);
  if (bytes === null || long.edgeBytes === null || long.burst <= flow) return sustained;
  const untilEdge = long.edgeBytes / (long.burst * 1e6);
  const first = (long.burst - flow) * 1e6 * untilEdge;
  if (bytes <= first) return long.burst;
  const beside = (sustained - flow) * 1e6;
  if (beside <= 0) return Math.min(sustained, flow);
  return flow + bytes / 1e6 / (untilEdge + (bytes - first) / beside);
}

function byLedger(need: number, rig: Rig, direction: Direction): Found {
  const bottleneck = bottleneckOf(rig, direction);
  if (!bottleneck || bottleneck.ceiling < need)
    return { fit: "cannot meet", have: bottleneck?.ceiling ?? 0 };
  const known = stagesOf(rig, direction).every(({ cause }) => cause.kind !== "plug");
  const { low: least } = bottleneck.attainable;
  return { fit: known && least >= need ? "should meet" : "can't tell", have: least };
}
