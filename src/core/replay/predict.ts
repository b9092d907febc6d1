import type { Recording } from "../recording/recording-file";
import type { Replay } from "../run/program";
import { courseOf } from "./course";
import { endOf } from "./outcome";
import { FLUSH, KIND, READ, scheduleOf } from "./schedule";

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
 * Foretells a replay: the bytes of a request pass the link of its direction one after another, and its overhead
 * comes on top. A flush takes as long as in the recording, since no ladder tells of flushes.
 *
 * @param recordings that are done side by side
 * @returns null where the work goes a way of which the rig has no ladder
 */
export function predictWork(
  recordings: readonly Pick<Recording, "requests" | "end">[],
  rig: RigAnswering,
  how: Pick<Replay, "pace" | "pauses">,
): PredictedWork | null {
  const ground = { first: 0, span: Number.MAX_SAFE_INTEGER, smallest: 512 };
  const schedules = recordings.map((recording) => scheduleOf(recording, how, ground));
  const ways = new Set(schedules.flatMap(({ kinds }) => [...new Set(kinds)].map((k) => k & KIND)));
  const used = [...ways].flatMap((way) =>
    way === FLUSH ? [] : way === READ ? rig.read : rig.write,
  );
  if (used.some((answering) => answering === null)) return null;
  const { replayed, waitedMs } = courseOf(schedules, ({ way, bytes }) => {
    const { overheadUs, mbps, mostIops } = rig[way]!;
    const laneUs = Math.max(bytes / mbps, mostIops ? 1e6 / mostIops : 0);
    return { lane: way, laneUs, besideUs: overheadUs };
  });
  return {
    ms: Math.max(...replayed.map((work) => endOf(work, how))),
    waitedMs,
    worst: Math.max(0, ...used.map((answering) => answering!.worst)),
  };
}
