import { setTimeout as sleep } from "node:timers/promises";
import { endOf, latenciesOf, outcomeOf } from "@/core/replay/outcome";
import { scheduleOf, type Schedule } from "@/core/replay/schedule";
import type { Replay } from "@/core/run/program";
import type { StepResult } from "@/core/run/result";
import { blankStep } from "@/core/run/step";
import { allEnded, laneError } from "../lanes/lanes";
import { startReplay, type ReplayLane } from "../lanes/replay";
import type { Telling } from "../outside";
import { readCoreTimes } from "../processor";
import { busiestCore } from "@/core/system/core-times";
import { RunFailure } from "../refusal";
import { bytesMoved } from "../target/device";
import { smallestBlock } from "../target/facts";
import { Presence, throwLaneError } from "../target/presence";
import type { Medium } from "../target/scratch";
import { PATIENCE_MS } from "./flow";
import type { Recordings } from "./recordings";
import { SAMPLE_MS } from "./sampling";
import { Silence } from "./silence";

/** How often is looked whether a replay has come to its end. */
const POLL_MS = 5;
/** Any drive takes whole pages; where a system does not say more, that is what is asked for. */
const PAGE = 4096;

/** One recording at work. */
interface Part {
  schedule: Schedule;
  lane: ReplayLane;
}

/**
 * Does recordings again, side by side where the step has several, and samples it ten times a second.
 *
 * @param number of the step
 * @returns null when it was stopped
 * @throws RunFailure when a request fails or the target goes away
 */
export async function replay(
  step: Replay,
  medium: Medium,
  recordings: Recordings,
  number: number,
  telling: Telling,
): Promise<StepResult | null> {
  const { device } = medium.target;
  const smallest = (device === null ? null : await smallestBlock(device)) ?? PAGE;
  const schedules = step.works.map(({ sha256, first, span }) =>
    scheduleOf(recordings.get(sha256)!, step, { first, span, smallest }),
  );
  const before = device ? await bytesMoved(device) : null;
  const parts: Part[] = [];
  let ms: number | null = null;
  const cores = readCoreTimes();
  const processor = process.cpuUsage();
  try {
    for (const schedule of schedules) parts.push({ schedule, lane: startReplay(schedule, medium) });
    ms = await follow(step, parts, medium, number, telling);
  } finally {
    for (const { lane } of parts) lane.stop();
  }
  await allQuiet(parts, medium);
  if (ms === null) return null;
  const used = process.cpuUsage(processor);
  const after = device ? await bytesMoved(device) : null;
  const moved = movedBy(parts);
  const replayed = parts.map(({ schedule, lane }) => ({ schedule, ...lane.times() }));
  return {
    ...blankStep("replay", step.label),
    meanMBps: ms > 0 ? moved.bytes / 1e3 / ms : 0,
    bytes: moved.bytes,
    written: moved.written,
    ms,
    requests: moved.requests,
    ...latenciesOf(replayed),
    deviceBytes:
      before && after ? after.read - before.read + (after.written - before.written) : null,
    processorUsPerRequest: moved.requests > 0 ? (used.user + used.system) / moved.requests : 0,
    busiestCore: busiestCore(cores, readCoreTimes()),
    replay: outcomeOf(replayed, ms),
  };
}

/** Lets recordings begin and samples them to their end. @returns milliseconds; null when it was stopped */
async function follow(
  how: Pick<Replay, "pace" | "pauses">,
  parts: readonly Part[],
  medium: Medium,
  number: number,
  telling: Telling,
): Promise<number | null> {
  const presence = new Presence(medium.target);
  telling.start();
  const begun = performance.now();
  const offset = telling.now() - begun;
  for (const { lane } of parts) lane.begin();
  const silence = new Silence(telling);
  let last = { at: begun, ...movedBy(parts) };
  const take = () => {
    const at = performance.now();
    const moved = movedBy(parts);
    const bytes = moved.bytes - last.bytes;
    telling.sample({
      from: last.at + offset,
      ms: at + offset,
      bytes,
      written: moved.written - last.written,
      requests: moved.requests - last.requests,
      step: number,
      target: 0,
    });
    // The drive is silent only as long as it owes an answer.
    const owes = parts.some(({ lane }) => lane.inFlight() > 0);
    silence.heard(owes ? bytes : 1, at);
    last = { at, ...moved };
  };
  // Pauses that are kept go on to the recording's end, after the last answer.
  let end = Infinity;
  while (performance.now() < end) {
    await sleep(Math.min(POLL_MS, Math.max(0, end - performance.now())));
    if (telling.stopped) return null;
    for (const { lane } of parts) throwLaneError(lane, medium.target, "doing the recording again");
    presence.check();
    const now = performance.now();
    if (now - last.at >= SAMPLE_MS) take();
    if (end === Infinity && parts.every(({ lane }) => allEnded(lane)))
      end = Math.max(
        ...parts.map(({ schedule, lane }) => begun + endOf({ schedule, ...lane.times() }, how)),
      );
  }
  take();
  silence.end(performance.now());
  return last.at - begun;
}

const movedBy = (parts: readonly Part[]) =>
  parts
    .map(({ lane }) => lane.moved())
    .reduce((a, b) => ({
      bytes: a.bytes + b.bytes,
      written: a.written + b.written,
      requests: a.requests + b.requests,
    }));

/** Waits until nothing is in flight any more. @throws RunFailure where the drive does not answer */
async function allQuiet(parts: readonly Part[], { target }: Medium): Promise<void> {
  const tired = performance.now() + PATIENCE_MS;
  while (!parts.every(({ lane }) => allEnded(lane))) {
    if (performance.now() > tired)
      throw new RunFailure(
        `${target.path} did not answer requests for ${PATIENCE_MS / 1e3} s after the run’s end. What was measured until then is kept.`,
      );
    await sleep(POLL_MS);
  }
  for (const { lane } of parts) {
    await lane.ended;
    if (laneError(lane)) throwLaneError(lane, target, "doing the recording again");
  }
}
