import type { Recording } from "../recording/recording-file";
import type { RecordedRequest } from "../recording/request";
import type { Replay } from "../run/program";
import { PAGE, Places } from "./places";

/** What a request does, as native/replay.h knows it; UNHEARD: nothing in the recording waited for its answer. */
export const READ = 0;
export const WRITE = 1;
export const FLUSH = 2;
export const UNHEARD = 4;
/** Of a write: the drive's cache is emptied before, and the write itself is on the medium when it is answered. */
export const FLUSH_BEFORE = 8;
export const FLUSH_AFTER = 16;
/** What a request does, of all that is set of it. */
export const KIND = 3;

/** The requests of a recording as they are to be done again, one array after another, in their order. */
export interface Schedule {
  kinds: Uint8Array;
  /** Where in the scratch file, and how much, bytes. */
  places: Float64Array;
  lengths: Float64Array;
  /** How many answers have to be there before it goes, and how long after the last of them, nanoseconds. */
  answers: Float64Array;
  waitsNs: Float64Array;
  /** When it reached the drive in the recording and was answered, milliseconds; NaN where no answer was seen. */
  recordedFrom: Float64Array;
  recordedTo: Float64Array;
  /** The recording's own length, and the time between its last answer or request and its end, milliseconds. */
  ms: number;
  tailMs: number;
  /** Requests that cannot be done again, and those that were widened to the drive's smallest block. */
  leftOut: number;
  widened: number;
  /** Whether the places were folded into less than was touched. */
  folded: boolean;
}

/** Where a recording is done again. */
export interface Ground {
  /** The stretch of the scratch file: where it begins, and its length. Bytes. */
  first: number;
  span: number;
  /** The smallest request that the drive takes, bytes. */
  smallest: number;
}

/**
 * Puts a recording's requests into the order of their replay.
 *
 * Which answer a program waited for stands in no trace of a drive; how many answers were there when a request
 * came does. A request waits for as many, and for the pause after the last of them, so that as many are under
 * way as were in the recording, and none goes before those that had to be answered first.
 */
export function scheduleOf(
  { requests: all, end }: Pick<Recording, "requests" | "end">,
  { pace, pauses }: Pick<Replay, "pace" | "pauses">,
  ground: Ground,
): Schedule {
  // What frees space would leave holes in the scratch file, which no later read could be timed by.
  const requests = all.filter(({ kind }) => kind !== "discard");
  const count = requests.length;
  const places = placesIn(requests, ground);
  const schedule: Schedule = {
    kinds: Uint8Array.from(requests, kindOf),
    places: places.at,
    lengths: places.lengths,
    answers: new Float64Array(count),
    waitsNs: new Float64Array(count),
    recordedFrom: Float64Array.from(requests, ({ startUs }) => startUs / 1e3),
    recordedTo: Float64Array.from(requests, ({ startUs, tookUs }) =>
      tookUs === null ? NaN : (startUs + tookUs) / 1e3,
    ),
    ms: end.ms,
    tailMs: end.ms,
    leftOut: all.length - count,
    widened: places.widened,
    folded: places.folded,
  };
  const ends = schedule.recordedTo.filter((ms) => !Number.isNaN(ms)).sort();
  let [answers, heard] = [0, 0];
  for (const [i, from] of schedule.recordedFrom.entries()) {
    while (answers < heard && ends[answers]! <= from) answers++;
    const since = answers > 0 ? ends[answers - 1]! : 0;
    if (pace === "asap") schedule.answers[i] = answers;
    schedule.waitsNs[i] =
      1e6 * (pace === "as-recorded" ? from : pauses === "kept" ? from - since : 0);
    if (!Number.isNaN(schedule.recordedTo[i]!)) heard++;
  }
  const last = Math.max(ends.at(-1) ?? 0, schedule.recordedFrom.at(-1) ?? 0);
  schedule.tailMs = Math.max(0, end.ms - last);
  return schedule;
}

const kindOf = ({ kind, tookUs, flush }: RecordedRequest): number =>
  (kind === "read" ? READ : kind === "write" ? WRITE : FLUSH) +
  (tookUs === null ? UNHEARD : 0) +
  (kind === "write" && (flush === "before" || flush === "both") ? FLUSH_BEFORE : 0) +
  (kind === "write" && (flush === "after" || flush === "both") ? FLUSH_AFTER : 0);

/** Places and lengths in whole blocks of the drive, folded where there is less room than was touched. */
function placesIn(
  requests: readonly RecordedRequest[],
  { first, span, smallest }: Ground,
): { at: Float64Array; lengths: Float64Array; widened: number; folded: boolean } {
  const places = new Places(requests);
  const at = new Float64Array(requests.length).fill(first);
  const lengths = new Float64Array(requests.length);
  const unit = Math.max(PAGE, smallest);
  const room = Math.max(unit, Math.floor(span / unit) * unit);
  let [widened, folded] = [0, places.bytes > room];
  for (const [i, { kind, offset, bytes }] of requests.entries()) {
    if (kind === "flush") continue;
    const place = places.at(offset);
    const from = Math.floor(place / smallest) * smallest;
    const to = Math.ceil((place + bytes) / smallest) * smallest;
    if (to - from > bytes) widened++;
    const length = Math.min(to - from, room);
    if (length < to - from) folded = true;
    // One that would go over the end of what there is lies at its end.
    at[i] = first + Math.min(from % room, room - length);
    lengths[i] = length;
  }
  return { at, lengths, widened, folded };
}
