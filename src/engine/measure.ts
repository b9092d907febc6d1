import fs from "node:fs";
import fsp from "node:fs/promises";
import { promisify, getSystemErrorName } from "node:util";
import { setTimeout as sleep } from "node:timers/promises";
import type { Drill } from "@/core/drills/drill";
import { headlineRate } from "@/core/trace/rates";
import type { RunResult, Sample } from "@/core/drills/result";
import { BYTES, longest, sumOf } from "./counters";
import { bytesMoved } from "./device";
import { percentiles } from "./histogram";
import { allEnded, laneError, startLanes, type Lanes, type Walk } from "./lanes";
import { busiestCore, readCoreTimes } from "./processor";
import type { EngineEvent } from "./protocol";
import { RunFailure } from "./refusal";
import type { Medium } from "./scratch";
import type { Target } from "./target";

/** What a measurement needs from outside: where to tell, and whether to stop. */
export interface Outside {
  tell(event: EngineEvent): void;
  stop: AbortSignal;
}

const SAMPLE_MS = 100;
/** The scratch file is laid out in requests that any drive takes well. */
const LAY_OUT = { block: 2 ** 20, lanes: 2 };

/** Seconds of flow before counting starts, so that queues and throttles are in their steady state. */
const leadIn = (drill: Drill) => Math.min(1, drill.seconds / 4);

/**
 * Fills a new scratch file over its whole span, so that reads find data and writes find their
 * blocks allocated.
 *
 * @throws RunFailure when the disk fills up or fails
 */
export async function layOut(
  medium: Medium,
  target: Target,
  span: number,
  run: number,
  outside: Outside,
): Promise<void> {
  const { block, lanes: depth } = LAY_OUT;
  const blocks = Math.ceil(span / block);
  await promisify(fs.ftruncate)(medium.fd, blocks * block);
  const lanes = await startLanes(depth, {
    fd: medium.fd,
    writing: true,
    block,
    blocks,
    once: true,
    run,
  });
  lanes.release();
  const total = blocks * block;
  while (!allEnded(lanes)) {
    await sleep(SAMPLE_MS);
    outside.tell({ event: "preparing", bytes: sumOf(lanes.counters, BYTES), total });
    if (outside.stop.aborted || laneError(lanes)) lanes.stop();
    await checkPresence(target).catch((error: unknown) => {
      lanes.stop();
      throw error;
    });
  }
  await lanes.ended;
  throwLaneError(lanes, target, "preparing the scratch file");
  if (!outside.stop.aborted) await promisify(fs.fsync)(medium.fd);
}

/**
 * Runs one repeat of a drill and reports a sample ten times a second.
 *
 * Payload is counted between two instants while the flow goes on. The kernel counts requests some
 * time before their lanes wake up, so its count is taken while nothing is in flight, before and
 * after, and what the lanes moved outside the counted time is taken off.
 *
 * @returns null when it was stopped
 * @throws RunFailure when a request fails or the target goes away
 */
export async function measureOnce(
  medium: Medium,
  target: Target,
  drill: Drill,
  repeat: number,
  run: number,
  outside: Outside,
): Promise<RunResult | null> {
  const walk: Walk = {
    fd: medium.fd,
    writing: drill.direction === "write",
    block: drill.block,
    blocks: Math.floor(drill.span / drill.block),
    once: false,
    run,
  };
  const kernelCount = () =>
    target.device ? bytesMoved(target.device, drill.direction) : Promise.resolve(null);
  const lanes = await startLanes(drill.depth, walk);
  const before = await kernelCount();
  let counted: Omit<RunResult, "deviceBytes"> | null;
  try {
    counted = await count(lanes, target, drill, repeat, outside);
  } finally {
    lanes.stop();
    await lanes.ended;
  }
  if (!counted) return null;
  const after = await kernelCount();
  const uncounted = sumOf(lanes.counters, BYTES) - counted.bytes;
  const deviceBytes =
    before === null || after === null ? null : Math.max(0, after - before - uncounted);
  return { ...counted, deviceBytes };
}

async function count(
  lanes: Lanes,
  target: Target,
  drill: Drill,
  repeat: number,
  outside: Outside,
): Promise<Omit<RunResult, "deviceBytes"> | null> {
  const { counters } = lanes;
  lanes.release();
  await sleep(leadIn(drill) * 1e3, undefined, { signal: outside.stop }).catch(() => undefined);

  const cores = readCoreTimes();
  const processor = process.cpuUsage();
  lanes.count();
  outside.tell({ event: "started", repeat, at: new Date().toISOString() });
  const now = () => ({ bytes: sumOf(counters, BYTES), at: performance.now() });
  const before = now();
  const end = before.at + drill.seconds * 1e3;
  const trace: Sample[] = [];
  let last = before;
  for (;;) {
    const due = nextSample(last.at, before.at, end);
    await sleep(Math.max(0, due - performance.now()));
    throwLaneError(lanes, target, "measuring");
    const next = now();
    const sample = { ms: next.at - before.at, bytes: next.bytes - last.bytes };
    trace.push(sample);
    outside.tell({ event: "sample", repeat, ...sample });
    last = next;
    if (outside.stop.aborted) return null;
    if (due >= end) break;
    if (trace.length % 10 === 0) await checkPresence(target);
  }
  lanes.stop();
  const used = process.cpuUsage(processor);
  const bytes = last.bytes - before.bytes;
  const requests = bytes / drill.block;
  return {
    meanMBps: headlineRate(trace),
    bytes,
    ms: last.at - before.at,
    requests,
    latencyUs: percentiles(counters.histograms, longest(counters)),
    processorUsPerRequest: requests > 0 ? (used.user + used.system) / requests : 0,
    busiestCore: busiestCore(cores, readCoreTimes()),
  };
}

/**
 * When the next sample is due: on the grid of tenths of a second, but never less than half a tenth
 * after the last one, which a busy machine may have delayed, nor so near to the end.
 *
 * @returns milliseconds on the clock of the arguments
 */
export function nextSample(last: number, start: number, end: number): number {
  const due = start + (Math.round((last - start) / SAMPLE_MS) + 1) * SAMPLE_MS;
  return end - due < SAMPLE_MS / 2 ? end : due;
}

/** A drive that was unplugged or a directory that was removed must not be measured on. */
async function checkPresence(target: Target): Promise<void> {
  const stat = await fsp.stat(target.path).catch(() => null);
  const there = stat && stat.ino === target.identity.ino && stat.dev === target.identity.dev;
  if (!there) {
    throw new RunFailure(
      `${target.path} went away during the run: it was removed, or its drive was unplugged or unmounted.`,
    );
  }
}

function throwLaneError(lanes: Lanes, target: Target, doing: string): void {
  const number = laneError(lanes);
  if (!number) return;
  const name = getSystemErrorName(-number);
  const device = target.deviceName ? ` (${target.deviceName})` : "";
  throw new RunFailure(
    name === "ENOSPC"
      ? `The drive of ${target.path}${device} filled up while ${doing}. The scratch file is gone again; free some space or use a smaller span.`
      : `The system reported ${name} while ${doing} on ${target.path}${device}: the drive failed, was unplugged, or refused the request.`,
  );
}
