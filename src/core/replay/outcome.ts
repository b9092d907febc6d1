import { latenciesFrom, type StepLatencies, type Times } from "../run/latencies";
import type { Replay } from "../run/program";
import type { ReplayPhase, ReplayResult } from "../run/replay-result";
import { BUCKETS, bucketOf, packHistogram } from "../stats/histogram";
import { FLUSH, FLUSH_AFTER, FLUSH_BEFORE, KIND, READ, WRITE, type Schedule } from "./schedule";

/** A replay that has come to its end: its schedule, and when each request went and was answered, milliseconds. */
export interface Replayed {
  schedule: Schedule;
  /** NaN where it did not come to that. */
  from: Float64Array;
  to: Float64Array;
}

/** Drives that stand still for so long pause: a second, as everywhere. Milliseconds. */
const PAUSE_MS = 1000;
/** Phases that are told apart. */
const MOST_PHASES = 12;

/** One request in the recording and in its replay. */
interface Both {
  kind: number;
  bytes: number;
  recordedFrom: number;
  recordedTo: number;
  from: number;
  to: number;
}

/**
 * Holds a replay against its recording.
 *
 * @param replayed the recordings that were done side by side
 * @param ms how long the replay took
 */
export function outcomeOf(replayed: readonly Replayed[], ms: number): ReplayResult {
  const all = replayed.flatMap(bothOf).toSorted((a, b) => a.recordedFrom - b.recordedFrom);
  const sum = (pick: (schedule: Schedule) => number) =>
    replayed.reduce((total, { schedule }) => total + pick(schedule), 0);
  const recordedMs = Math.max(...replayed.map(({ schedule }) => schedule.ms));
  const phases = phasesOf(all, recordedMs, ms);
  const waited = (pick: (phase: ReplayPhase) => { waitedMs: number }) =>
    phases.reduce((total, phase) => total + pick(phase).waitedMs, 0);
  return {
    recorded: { ms: recordedMs, waitedMs: waited(({ recorded }) => recorded) },
    replayed: { ms, waitedMs: waited(({ replayed: again }) => again) },
    phases,
    recordedRead: histogramOf(all, READ),
    recordedWrite: histogramOf(all, WRITE),
    flushes: sum(({ kinds }) => kinds.reduce((total, kind) => total + flushesOf(kind), 0)),
    leftOut: sum(({ leftOut }) => leftOut),
    widened: sum(({ widened }) => widened),
    folded: replayed.some(({ schedule }) => schedule.folded),
  };
}

/** When a recording that was done again is over, its pauses with it: milliseconds after its beginning. */
export function endOf(
  { schedule, to }: Replayed,
  { pace, pauses }: Pick<Replay, "pace" | "pauses">,
): number {
  const answered = to.reduce((last, one) => (one > last ? one : last), 0);
  if (pace === "as-recorded") return Math.max(answered, schedule.ms);
  return answered + (pauses === "kept" ? schedule.tailMs : 0);
}

/** Request times each way, as the drive was seen to answer. */
export function latenciesOf(replayed: readonly Replayed[]): StepLatencies {
  const [reading, writing] = [READ, WRITE].map((way): Times => {
    const histogram = new Float64Array(BUCKETS);
    let longest = 0;
    for (const { schedule, from, to } of replayed)
      for (const [i, kind] of schedule.kinds.entries()) {
        if ((kind & KIND) !== way) continue;
        const ns = Math.max(0, (to[i]! - from[i]!) * 1e6);
        histogram[bucketOf(ns)]! += 1;
        longest = Math.max(longest, ns);
      }
    return { histogram, longest };
  }) as [Times, Times];
  return latenciesFrom(reading, writing);
}

const flushesOf = (kind: number): number =>
  ((kind & KIND) === FLUSH ? 1 : 0) + (kind & FLUSH_BEFORE ? 1 : 0) + (kind & FLUSH_AFTER ? 1 : 0);

const bothOf = ({ schedule, from, to }: Replayed): Both[] =>
  Array.from(schedule.kinds, (kind, i) => ({
    kind: kind & KIND,
    bytes: schedule.lengths[i]!,
    recordedFrom: schedule.recordedFrom[i]!,
    recordedTo: schedule.recordedTo[i]!,
    from: from[i]!,
    to: to[i]!,
  }));

/** Counts the time in which any request was under way, of requests in the order in which they went. */
class Waiting {
  private until = 0;

  /** @returns milliseconds that this request adds */
  add(from: number, to: number): number {
    if (!(to > this.until)) return 0;
    const added = to - Math.max(from, this.until);
    this.until = to;
    return added;
  }
}

/**
 * Cuts a recording at its longest pauses. A phase goes on to the beginning of the next one, its own pause with it.
 */
function phasesOf(all: readonly Both[], recordedMs: number, ms: number): ReplayPhase[] {
  const cuts = new Set(longestPauses(all));
  const [recorded, replayed] = [new Waiting(), new Waiting()];
  const phases: ReplayPhase[] = [];
  const begins: number[] = [];
  for (const [i, one] of all.entries()) {
    if (i === 0 || cuts.has(i)) {
      const span = { ms: 0, waitedMs: 0 };
      const fromMs = i === 0 ? 0 : one.recordedFrom;
      begins.push(i === 0 ? 0 : one.from);
      phases.push({ fromMs, requests: 0, bytes: 0, recorded: { ...span }, replayed: { ...span } });
    }
    const phase = phases.at(-1)!;
    phase.requests += 1;
    phase.bytes += one.bytes;
    phase.recorded.waitedMs += recorded.add(one.recordedFrom, one.recordedTo);
    phase.replayed.waitedMs += replayed.add(one.from, one.to);
  }
  phases.forEach((phase, i) => {
    phase.recorded.ms = Math.max(0, (phases[i + 1]?.fromMs ?? recordedMs) - phase.fromMs);
    phase.replayed.ms = Math.max(0, (begins[i + 1] ?? ms) - begins[i]!);
  });
  return phases;
}

/** The requests before which the recording paused longest. */
function longestPauses(all: readonly Both[]): number[] {
  const pauses: { at: number; ms: number }[] = [];
  let until = 0;
  for (const [at, { recordedFrom, recordedTo }] of all.entries()) {
    if (at > 0 && recordedFrom - until >= PAUSE_MS) pauses.push({ at, ms: recordedFrom - until });
    until = Math.max(until, recordedFrom, recordedTo || 0);
  }
  return pauses
    .toSorted((a, b) => b.ms - a.ms)
    .slice(0, MOST_PHASES - 1)
    .map(({ at }) => at);
}

/** Request times of the recording; null where nothing went this way. */
function histogramOf(all: readonly Both[], way: number): string | null {
  const histogram = new Float64Array(BUCKETS);
  let any = false;
  for (const { kind, recordedFrom, recordedTo } of all) {
    if (kind !== way || !(recordedTo >= recordedFrom)) continue;
    histogram[bucketOf((recordedTo - recordedFrom) * 1e6)]! += 1;
    any = true;
  }
  return any ? packHistogram(histogram) : null;
}
