import type { Recording } from "../recording/recording-file";
import type { Replay } from "../run/program";
import {
  FLUSH,
  FLUSH_AFTER,
  FLUSH_BEFORE,
  KIND,
  READ,
  scheduleOf,
  UNHEARD,
  type Schedule,
} from "./schedule";
import { EarliestFirst } from "./earliest-first";

/** How quickly a rig answers in one direction, by its ladders (docs/model.md, 3). */
export interface Answering {
  /** What a request takes whatever its size, microseconds, and how fast its bytes go, MB/s. */
  overheadUs: number;
  mbps: number;
  /** The most requests a second; null where no ladder by depth was done. */
  mostIops: number | null;
  /** How far a step of the ladder lies from its fit at most, as a share. */
  worst: number;
}

export interface RigAnswering {
  read: Answering | null;
  write: Answering | null;
}

/** How long recorded work would take through a rig, milliseconds. */
export interface PredictedWork {
  ms: number;
  /** Of that, with a request to answer. */
  waitedMs: number;
  /** How far the fits that it rests on are off at most, as a share. */
  worst: number;
}

/**
 * Foretells a replay, request by request: each goes as in the engine's replay, its bytes pass the link of its
 * direction one after another, and its overhead comes on top. A flush takes as long as in the recording, since
 * no ladder tells of flushes.
 *
 * @returns null where the work goes a way of which the rig has no ladder
 */
export function predictWork(
  recording: Pick<Recording, "requests" | "end">,
  rig: RigAnswering,
  how: Pick<Replay, "pace" | "pauses">,
): PredictedWork | null {
  const schedule = scheduleOf(recording, how, {
    first: 0,
    span: Number.MAX_SAFE_INTEGER,
    smallest: 512,
  });
  const ways = new Set([...schedule.kinds].map((kind) => kind & KIND));
  const used = [...ways].flatMap((way) =>
    way === FLUSH ? [] : way === READ ? rig.read : rig.write,
  );
  if (used.some((answering) => answering === null)) return null;
  const { last, waitedMs } = replayed(schedule, rig);
  const end =
    how.pace === "as-recorded" ? Math.max(last, schedule.ms) : last + tailOf(schedule, how);
  return { ms: end, waitedMs, worst: Math.max(0, ...used.map((answering) => answering!.worst)) };
}

const tailOf = ({ tailMs }: Schedule, { pauses }: Pick<Replay, "pauses">): number =>
  pauses === "kept" ? tailMs : 0;

/** When the last request is answered, and how long any was under way. Milliseconds. */
function replayed(schedule: Schedule, rig: RigAnswering): { last: number; waitedMs: number } {
  const underWay = new EarliestFirst();
  const free = { read: 0, write: 0 };
  let [answers, answeredAt, before, last, waitedMs] = [0, 0, 0, 0, 0];
  for (const [i, kind] of schedule.kinds.entries()) {
    while (answers < schedule.answers[i]!) {
      answeredAt = underWay.take();
      answers++;
    }
    // In the order of the recording, and as long after the answer as there.
    const from = Math.max(before, answeredAt + schedule.waitsNs[i]! / 1e6);
    const to = endOf(schedule, i, from, rig, free);
    if (!(kind & UNHEARD)) underWay.add(to);
    waitedMs += Math.max(0, to - Math.max(from, last));
    last = Math.max(last, to);
    before = from;
  }
  return { last, waitedMs };
}

/** When a request is answered that goes at a moment. @param free when the link of each way is free again */
function endOf(
  schedule: Schedule,
  i: number,
  from: number,
  rig: RigAnswering,
  free: { read: number; write: number },
): number {
  const kind = schedule.kinds[i]! & KIND;
  const recorded = schedule.recordedTo[i]! - schedule.recordedFrom[i]! || 0;
  if (kind === FLUSH) return from + recorded;
  const way = kind === READ ? "read" : "write";
  const { overheadUs, mbps, mostIops } = rig[way]!;
  const passing = Math.max(schedule.lengths[i]! / 1e3 / mbps, mostIops ? 1e3 / mostIops : 0);
  free[way] = Math.max(from, free[way]) + passing;
  const isFlushed = (schedule.kinds[i]! & (FLUSH_BEFORE | FLUSH_AFTER)) !== 0;
  return free[way] + Math.max(overheadUs / 1e3, isFlushed ? recorded : 0);
}
