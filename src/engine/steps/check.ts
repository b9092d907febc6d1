import { setTimeout as sleep } from "node:timers/promises";
import type { Step } from "@/core/run/program";
import { joinedFaults } from "@/core/run/faults";
import { blankStep } from "@/core/run/step";
import type { Fault, FaultKind, StepResult } from "@/core/run/result";
import { Curve } from "@/core/trace/curve";
import { levelsOf } from "@/core/reading/levels";
import { FAULTS, MOST_FAULTS, movedBy, type Counters } from "../lanes/counters";
import { allEnded, startLanes } from "../lanes/lanes";
import { native } from "../lanes/native";
import type { Telling } from "../outside";
import { Presence, throwLaneError } from "../target/presence";
import type { Medium } from "../target/scratch";
import { PAGE_STATES } from "../lanes/stamp";
import { SAMPLE_MS } from "./sampling";
import { latenciesOf } from "./latency";

/**
 * Reads back what was written, past what memory holds of it, and holds every page against it.
 *
 * @returns null when it was stopped
 * @throws RunFailure when a request fails or the target goes away
 */
export async function check(
  step: Extract<Step, { do: "check" }>,
  medium: Medium,
  run: number,
  number: number,
  telling: Telling,
): Promise<StepResult | null> {
  for (const fd of medium.fds) native()?.forget(fd);
  const lanes = await startLanes({
    fds: medium.fds,
    fileBytes: medium.fileBytes,
    writeShare: 0,
    order: "sequential",
    block: step.block,
    first: 0,
    blocks: Math.floor(step.span / step.block),
    once: true,
    depth: step.depth,
    mark: { run, generation: step.generation },
    generated: true,
    checked: true,
    compressible: 0,
    seed: run,
  });
  const presence = new Presence(medium.target);
  telling.start();
  const start = telling.now();
  const curve = new Curve();
  let last = { at: start, moved: movedBy(lanes.counters, step.block) };
  lanes.release();
  lanes.count();
  try {
    for (let over = false; !over;) {
      for (let i = 0; i < 10 && !allEnded(lanes); i++) await sleep(SAMPLE_MS / 10);
      throwLaneError(lanes, medium.target, "reading back");
      over = allEnded(lanes);
      const [at, moved] = [telling.now(), movedBy(lanes.counters, step.block)];
      const bytes = moved.read - last.moved.read;
      curve.add(at - start, bytes);
      telling.sample({
        from: last.at,
        ms: at,
        bytes,
        written: 0,
        requests: moved.requests - last.moved.requests,
        step: number,
        target: 0,
      });
      last = { at, moved };
      if (telling.stopped) return null;
      presence.check();
    }
  } finally {
    lanes.stop();
  }
  await lanes.ended;
  const ms = last.at - start;
  const faults = faultsOf(lanes.counters, step.block);
  const levels = levelsOf(curve.moments);
  return {
    ...blankStep("check", step.label),
    meanMBps: ms > 0 ? last.moved.read / 1e3 / ms : 0,
    bytes: last.moved.read,
    ms,
    requests: last.moved.requests,
    ...latenciesOf([lanes.counters]),
    burstMBps: levels.burst,
    sustainedMBps: levels.sustained,
    edgeBytes: levels.edgeBytes,
    ...faults,
  };
}

/** What was found, in order of place. */
function faultsOf(counters: Counters, block: number): Pick<StepResult, "faults" | "moreFaults"> {
  const found = Atomics.load(counters.control, FAULTS);
  const listed = Math.min(found, MOST_FAULTS);
  const each = Array.from({ length: listed }, (_, i): Fault => {
    const [kind, offset, bytes] = counters.faults.subarray(3 * i, 3 * i + 3);
    return { kind: PAGE_STATES[kind!] as FaultKind, offset: offset!, bytes: bytes! };
  });
  return { faults: joinedFaults(each, block), moreFaults: found - listed };
}
