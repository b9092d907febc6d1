import { setTimeout as sleep } from "node:timers/promises";
import { timeIsOver, type Flow } from "@/core/run/program";
import type { StepResult } from "@/core/run/result";
import { Curve } from "@/core/trace/curve";
import { movedBy, type Moved } from "../lanes/counters";
import { bytesMoved } from "../target/device";
import { allEnded, startLanes, type Walk } from "../lanes/lanes";
import type { Telling } from "../outside";
import { Presence, throwLaneError } from "../target/presence";
import { readCoreTimes } from "../processor";
import { busiestCore } from "@/core/system/core-times";
import { RunFailure } from "../refusal";
import type { Medium } from "../target/scratch";
import { Rounds } from "./rounds";
import { nextSample } from "./sampling";
import { Silence } from "./silence";
import { flush, resultOf, type Counted, type Stream } from "./flow-result";

/** How often is looked whether a walk that is done once has come to its end. */
const POLL_MS = 10;
/** Requests still in flight at the end are waited for so long; then the drive is said not to answer. */
export const PATIENCE_MS = 20_000;

const NOTHING: Moved = { read: 0, written: 0, requests: 0 };

/** How a walk over a medium follows from a step. */
export function walkOf(step: Flow, medium: Medium, run: number): Walk {
  const once = step.bytes !== null || step.seconds === null;
  const length = step.bytes ?? step.span;
  return {
    fds: medium.fds,
    fileBytes: medium.fileBytes,
    writeShare: step.writeShare,
    order: step.order,
    block: step.block,
    first: step.first,
    blocks: Math.max(1, Math.floor((once ? length : step.span) / step.block)),
    once,
    depth: step.depth,
    mark: { run, generation: step.generation ?? 0 },
    generated: step.generation !== null,
    checked: false,
    compressible: step.compressible,
    seed: (run ^ (step.depth * 2654435761)) >>> 0,
  };
}

/**
 * Does a flow and samples it ten times a second.
 *
 * Payload is counted between two instants while the flow goes on. The kernel counts requests some
 * time before their lanes wake up, so its count is taken while nothing is in flight, before and
 * after, and what the lanes moved outside the counted time is taken off.
 *
 * @param media in the order of the job's targets
 * @param run tells this run's data from others'
 * @param number of the step
 * @returns null when it was stopped
 * @throws RunFailure when a request fails or a target goes away
 */
export async function flow(
  step: Flow,
  media: readonly Medium[],
  run: number,
  number: number,
  telling: Telling,
): Promise<StepResult | null> {
  const streams: Stream[] = [];
  let counted: Counted | null = null;
  try {
    for (const index of step.targets) {
      const medium = media[index]!;
      const before = medium.target.device ? await bytesMoved(medium.target.device) : null;
      const lanes = await startLanes(walkOf(step, medium, run));
      streams.push({
        index,
        medium,
        lanes,
        before,
        presence: new Presence(medium.target),
        due: 0,
        counting: false,
        last: NOTHING,
        lastAt: 0,
      });
    }
    counted = await count(step, streams, number, telling);
  } finally {
    for (const { lanes } of streams) lanes.stop();
  }
  await allQuiet(streams);
  if (!counted) return null;
  const flushMs = step.countFlush === null ? null : await flush(streams, telling);
  if (step.countFlush && flushMs !== null) {
    const end = telling.now();
    for (const { index } of streams) {
      telling.sample({
        from: end - flushMs,
        ms: end,
        bytes: 0,
        written: 0,
        requests: 0,
        step: number,
        target: index,
      });
    }
  }
  return resultOf(step, streams, counted, flushMs);
}

async function count(
  step: Flow,
  streams: Stream[],
  number: number,
  telling: Telling,
): Promise<Counted | null> {
  const begun = performance.now();
  streams.forEach((stream, i) => {
    stream.due = begun + (step.joins?.[i] ?? i * step.everySeconds) * 1e3;
  });
  // Without a lead-in the first request counts, too.
  if (step.leadIn > 0) for (const { due, lanes } of streams) if (due <= begun) lanes.release();
  await sleep(step.leadIn * 1e3, undefined, { signal: telling.outside.stop }).catch(
    () => undefined,
  );

  const cores = readCoreTimes();
  const processor = process.cpuUsage();
  telling.start();
  const start = performance.now();
  const offset = telling.now() - start;
  const rounds = new Rounds(step);
  const silence = new Silence(telling);
  /** All targets are at work from here on; only that counts. */
  let full: number | null = null;
  const curve = new Curve();
  let fullBase: Moved[] = [];
  let samples = 0;
  /** Bytes since all are at work. */
  let counted = 0;
  /** Takes a sample of all that are at work. @returns bytes since the last one */
  const take = (at: number): number => {
    let sum = 0;
    for (const stream of streams) {
      if (!stream.counting) continue;
      const moved = movedBy(stream.lanes.counters, step.block);
      const since = less(moved, stream.last);
      sum += since.read + since.written;
      telling.sample({
        from: stream.lastAt + offset,
        ms: at + offset,
        bytes: since.read + since.written,
        written: since.written,
        requests: since.requests,
        step: number,
        target: stream.index,
      });
      stream.last = moved;
      stream.lastAt = at;
    }
    return sum;
  };
  /** Lets those begin that are due; the others' samples end there, so that all are cut alike. */
  const begin = (now: number) => {
    const due = streams.filter((stream) => !stream.counting && stream.due <= now);
    if (due.length === 0) return;
    take(now);
    for (const stream of due) {
      stream.last = movedBy(stream.lanes.counters, step.block);
      stream.lastAt = now;
      stream.counting = true;
      stream.lanes.count();
    }
    if (!streams.every(({ counting }) => counting)) return;
    full = now;
    fullBase = streams.map(({ last }) => last);
    rounds.begin(now);
  };
  let at = start;
  for (;;) {
    begin(performance.now());
    const end = full !== null && step.seconds !== null ? full + step.seconds * 1e3 : Infinity;
    // Past its end a flow only waits for requests that are still to come.
    await untilDue(nextSample(at, start, at < end ? end : Infinity), streams);
    for (const { lanes, medium } of streams) throwLaneError(lanes, medium.target, "measuring");
    at = performance.now();
    const over = streams.every(({ counting, lanes }) => counting && allEnded(lanes));
    const sum = take(at);
    // Before its first drive joins, a part of a run on several machines has nothing to hear.
    if (streams.some(({ counting }) => counting)) silence.heard(sum, at);
    else silence.begin(at);
    if (full !== null) curve.add(at - full, sum);
    samples += 1;
    if (telling.stopped) return null;
    if (full !== null) counted += sum;
    const ended = full !== null && timeIsOver(step, at - full, counted / step.block);
    if (over || ended || rounds.isOver(at, sum)) break;
    if (samples % 10 === 0) for (const { presence } of streams) presence.check();
  }
  for (const { lanes } of streams) lanes.stop();
  silence.end(performance.now());
  const used = process.cpuUsage(processor);
  const bases = fullBase.length > 0 ? fullBase : streams.map(() => NOTHING);
  return {
    ...countedOf(streams, bases, full ?? start, {
      begun,
      curve,
      rounds,
      processorMs: (used.user + used.system) / 1e3,
    }),
    busiestCore: busiestCore(cores, readCoreTimes()),
  };
}

/**
 * What all streams moved together.
 *
 * @param bases what each had moved when all were at work
 * @param from since when all were at work, milliseconds
 * @throws RunFailure where not one request was answered
 */
function countedOf(
  streams: readonly Stream[],
  bases: readonly Moved[],
  from: number,
  {
    begun,
    curve,
    rounds,
    processorMs,
  }: { begun: number; curve: Curve; rounds: Rounds; processorMs: number },
): Omit<Counted, "busiestCore"> {
  const moved = streams.map(({ last }, i) => less(last, bases[i]!));
  const ms = streams[0]!.lastAt - from;
  if (moved.every(({ requests }) => requests === 0)) {
    throw new RunFailure(
      `Not one request was answered within ${Math.round(ms / 1e3)} s: the drive is too slow for blocks of this size, or does not answer. Use smaller blocks, or more time.`,
    );
  }
  return {
    ...rounds.cut({ curve, moved: moved.reduce(more), ms, processorMs }),
    shares: streams.map(({ index, due }, i) => ({
      target: index,
      startedMs: Math.max(0, due - begun),
      meanMBps: ms > 0 ? (moved[i]!.read + moved[i]!.written) / 1e3 / ms : 0,
      bytes: moved[i]!.read + moved[i]!.written,
    })),
    steady: rounds.result,
  };
}

/** Waits for the next sample; a walk that is done once may come to its end before. */
async function untilDue(due: number, streams: readonly Stream[]): Promise<void> {
  for (;;) {
    const left = due - performance.now();
    if (left <= 0 || streams.every(({ counting, lanes }) => counting && allEnded(lanes))) return;
    await sleep(Math.min(left, POLL_MS));
  }
}

const less = (a: Moved, b: Moved): Moved => ({
  read: a.read - b.read,
  written: a.written - b.written,
  requests: a.requests - b.requests,
});
const more = (a: Moved, b: Moved): Moved => ({
  read: a.read + b.read,
  written: a.written + b.written,
  requests: a.requests + b.requests,
});

/** Waits until nothing is in flight any more. @throws RunFailure where a drive does not answer */
async function allQuiet(streams: readonly Stream[]): Promise<void> {
  const ended = Promise.all(streams.map(({ lanes }) => lanes.ended));
  const patience = new AbortController();
  const tired = sleep(PATIENCE_MS, "tired", { signal: patience.signal }).catch(() => "tired");
  const first = await Promise.race([ended, tired]);
  patience.abort();
  if (first !== "tired") return;
  const still = streams
    .filter(({ lanes }) => !allEnded(lanes))
    .map(({ medium }) => medium.target.path);
  throw new RunFailure(
    `${still.join(" and ")} did not answer requests for ${PATIENCE_MS / 1e3} s after the run’s end. What was measured until then is kept.`,
  );
}
