import { median } from "simple-statistics";
import { differences } from "../../chain/difference";
import type { BriefMeasurement } from "../../study/measurement";
import type { MinutesOf, Opinion } from "../hypotheses/opinion";
import { minutesOfChange } from "./single-changes";

/** How long a tester's hands took for a kind of change, and from how many changes that is known. */
export interface Learnt {
  minutes: number;
  from: number;
}

/** Changes of a kind from which on their middle says more than the usual figure. */
const ENOUGH = 3;
/** Who takes longer has done something else meanwhile; who is quicker has changed nothing by hand. */
const [LEAST, MOST] = [0.2, 60];

/**
 * Minutes that changes took: the time from the end of a run on one rig to the beginning of the next one
 * on a rig that differs in one thing.
 *
 * @param measurements of real parts, in any order
 */
export function learntMinutes(
  measurements: readonly BriefMeasurement[],
): Partial<Record<MinutesOf, Learnt>> {
  const real = measurements
    .filter(({ origin }) => origin === "measured")
    .toSorted((a, b) => (a.createdAt < b.createdAt ? -1 : 1));
  const took = new Map<MinutesOf, number[]>();
  real.slice(1).forEach((next, i) => {
    const before = real[i]!;
    const changes = differences(before.rig, next.rig);
    const [change] = changes;
    if (changes.length !== 1 || !change) return;
    const kind = minutesOfChange(change);
    const ran = before.runs.reduce((sum, { result }) => sum + (result?.ms ?? 0), 0);
    const gap = (Date.parse(next.createdAt) - Date.parse(before.createdAt) - ran) / 60_000;
    if (!kind || !(gap >= LEAST && gap <= MOST)) return;
    took.set(kind, [...(took.get(kind) ?? []), gap]);
  });
  return Object.fromEntries(
    [...took]
      .filter(([, gaps]) => gaps.length >= ENOUGH)
      .map(([kind, gaps]) => [
        kind,
        { minutes: Math.round(median(gaps) * 10) / 10, from: gaps.length },
      ]),
  );
}

/** An opinion with what was learnt in place of the usual minutes, but not of those that were typed. */
export function withLearnt(opinion: Opinion, learnt: Partial<Record<MinutesOf, Learnt>>): Opinion {
  const minutes = Object.fromEntries(
    Object.entries(learnt).map(([kind, one]) => [kind, one.minutes]),
  );
  return { ...opinion, minutes: { ...minutes, ...opinion.minutes } };
}
