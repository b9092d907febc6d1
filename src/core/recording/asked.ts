import { quantile } from "simple-statistics";
import type { RecordedRequest, RequestKind } from "./request";

/** What a piece of work asks of a drive, worked out of every request that reached the drive. */
export interface AskedOfDrive {
  seconds: number;
  /** Bytes and requests each way. */
  read: Flow;
  write: Flow;
  /** Flushes asked for, those that belong to a write among them. */
  flushes: number;
  discards: number;
  /** Bytes in the middle request, and the share of bytes that came in requests of 64 KiB and more. */
  medianBytes: number;
  largeShare: number;
  /** Share of the requests that begin where no recent one of their kind ended. */
  randomShare: number;
  /** Requests that were under way at once, over the time in which any was; and the most. */
  meanDepth: number;
  mostDepth: number;
  /** Share of the time in which the drive had a request to answer: without delay it would save at most that. */
  busyShare: number;
  /** Stretches of a second and more without any request. */
  pauses: number;
  pausedSeconds: number;
  /** Pieces of 1 MiB that were touched, bytes. */
  workingSetBytes: number;
  /** Time of single requests, microseconds: the middle one, and 99 of 100; null where none was answered. */
  medianUs: number | null;
  p99Us: number | null;
}

/** What goes one way. */
export interface Flow {
  bytes: number;
  requests: number;
  /** MB/s over the whole time, and in the busiest second. */
  meanMBps: number;
  peakMBps: number;
  /** What 99 of 100 seconds stay within, pauses among them, MB/s. */
  p99MBps: number;
}

/** A piece of the working set. */
const PIECE = 2 ** 20;
const LARGE = 64 * 2 ** 10;
/** Streams that may run beside each other and still count as in order each. */
const STREAMS = 32;
const PAUSE_US = 1e6;
const SECOND_US = 1e6;

/**
 * @param requests in the order in which they reached the drive
 * @param ms how long was recorded
 */
export function askedOf(requests: readonly RecordedRequest[], ms: number): AskedOfDrive {
  const moving = requests.filter(({ kind }) => kind === "read" || kind === "write");
  const bytes = moving.reduce((sum, one) => sum + one.bytes, 0);
  const large = moving.reduce((sum, one) => sum + (one.bytes >= LARGE ? one.bytes : 0), 0);
  const sizes = moving.map((one) => one.bytes);
  const took = moving.flatMap(({ tookUs }) => tookUs ?? []);
  const busy = busyTime(requests);
  const count = (kind: RequestKind) => requests.filter((one) => one.kind === kind).length;
  return {
    seconds: ms / 1e3,
    read: flowOf(requests, "read", ms),
    write: flowOf(requests, "write", ms),
    flushes: requests.reduce((sum, one) => sum + flushesOf(one), 0),
    discards: count("discard"),
    medianBytes: sizes.length > 0 ? quantile(sizes, 0.5) : 0,
    largeShare: bytes > 0 ? large / bytes : 0,
    randomShare: moving.length > 0 ? randomOf(moving) / moving.length : 0,
    meanDepth: busy.us > 0 ? busy.waitedUs / busy.us : 0,
    mostDepth: busy.most,
    busyShare: ms > 0 ? Math.min(1, busy.us / 1e3 / ms) : 0,
    ...pausesOf(requests, ms),
    workingSetBytes: workingSet(moving),
    medianUs: took.length > 0 ? quantile(took, 0.5) : null,
    p99Us: took.length > 0 ? quantile(took, 0.99) : null,
  };
}

const flushesOf = ({ kind, flush }: RecordedRequest): number =>
  kind === "flush" || flush === "before" || flush === "after" ? 1 : flush === "both" ? 2 : 0;

function flowOf(requests: readonly RecordedRequest[], kind: RequestKind, ms: number): Flow {
  const own = requests.filter((one) => one.kind === kind);
  let [bytes, within, most, first] = [0, 0, 0, 0];
  // The second that ends with a request holds those that began less than a second before.
  for (const one of own) {
    bytes += one.bytes;
    within += one.bytes;
    while (own[first]!.startUs <= one.startUs - SECOND_US) within -= own[first++]!.bytes;
    most = Math.max(most, within);
  }
  const meanMBps = ms > 0 ? bytes / 1e3 / ms : 0;
  // No second is busier than the whole where the whole is less than a second.
  const peakMBps = Math.max(meanMBps, most / 1e6);
  const p99MBps = Math.min(
    peakMBps,
    Math.max(meanMBps, quantile([...secondsOf(own, ms)], 0.99) / 1e6),
  );
  return { bytes, requests: own.length, meanMBps, peakMBps, p99MBps };
}

/** Bytes of each second from the beginning on, those without a request among them. */
function secondsOf(requests: readonly RecordedRequest[], ms: number): Float64Array {
  const last = Math.floor((requests.at(-1)?.startUs ?? 0) / SECOND_US);
  const seconds = new Float64Array(Math.max(last + 1, Math.ceil(ms / 1e3)));
  for (const { startUs, bytes } of requests) seconds[Math.floor(startUs / SECOND_US)]! += bytes;
  return seconds;
}

/** Requests that go on where none of the latest of their kind ended. */
function randomOf(moving: readonly RecordedRequest[]): number {
  const ends: Record<string, number[]> = { read: [], write: [] };
  let random = 0;
  for (const { kind, offset, bytes } of moving) {
    const recent = ends[kind]!;
    const at = recent.indexOf(offset);
    if (at < 0) random += 1;
    else recent.splice(at, 1);
    recent.push(offset + bytes);
    if (recent.length > STREAMS) recent.shift();
  }
  return random;
}

/** The time in which a request was under way, that of all requests together, and the most at once. */
function busyTime(requests: readonly RecordedRequest[]): {
  us: number;
  waitedUs: number;
  most: number;
} {
  const edges = requests
    .filter(({ tookUs }) => tookUs !== null)
    .flatMap(({ startUs, tookUs }): [number, number][] => [
      [startUs, 1],
      [startUs + tookUs!, -1],
    ])
    // Where one ends as another begins, the drive had no rest between.
    .toSorted(([a, begins], [b, other]) => a - b || other - begins);
  let [depth, most, us, waitedUs, last] = [0, 0, 0, 0, 0];
  for (const [at, step] of edges) {
    if (depth > 0) us += at - last;
    waitedUs += depth * (at - last);
    depth += step;
    most = Math.max(most, depth);
    last = at;
  }
  return { us, waitedUs, most };
}

function pausesOf(
  requests: readonly RecordedRequest[],
  ms: number,
): { pauses: number; pausedSeconds: number } {
  let [pauses, pausedUs, quietSince] = [0, 0, 0];
  const look = (at: number) => {
    if (at - quietSince < PAUSE_US) return;
    pauses += 1;
    pausedUs += at - quietSince;
  };
  for (const { startUs, tookUs } of requests) {
    look(startUs);
    quietSince = Math.max(quietSince, startUs + (tookUs ?? 0));
  }
  look(ms * 1e3);
  return { pauses, pausedSeconds: pausedUs / 1e6 };
}

function workingSet(moving: readonly RecordedRequest[]): number {
  const touched = new Set<number>();
  for (const { offset, bytes } of moving)
    for (let at = Math.floor(offset / PIECE); at * PIECE < offset + bytes; at++) touched.add(at);
  return touched.size * PIECE;
}
