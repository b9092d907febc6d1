import fs from "node:fs";
import { promisify } from "node:util";
import { flowFigures } from "@/core/drills/flow-figures";
import type { Flow } from "@/core/run/program";
import type { StepResult, TargetShare } from "@/core/run/result";
import { blankStep } from "@/core/run/step";
import type { Curve } from "@/core/trace/curve";
import { movedBy, type Moved } from "../lanes/counters";
import type { Lanes } from "../lanes/lanes";
import type { Presence } from "../target/presence";
import type { Medium } from "../target/scratch";
import { bytesMoved, type DeviceCount } from "../target/device";
import type { Telling } from "../outside";
import { latenciesOf } from "./latency";

/** One target of a flow at work. */
export interface Stream {
  index: number;
  medium: Medium;
  lanes: Lanes;
  presence: Presence;
  /** When it is to begin, on the clock of performance.now; null before the flow began. */
  due: number;
  counting: boolean;
  /** What had moved at the last sample. */
  last: Moved;
  lastAt: number;
  before: DeviceCount | null;
}

/** What was seen in the counted time, all targets together. */
export interface Counted {
  curve: Curve;
  moved: Moved;
  /** How long was counted, milliseconds. */
  ms: number;
  shares: TargetShare[];
  processorMs: number;
  busiestCore: number | null;
  steady: StepResult["steady"];
}

/** Has what was written brought to the medium. @returns milliseconds */
export async function flush(streams: readonly Stream[], telling: Telling): Promise<number | null> {
  const begun = performance.now();
  const files = streams.flatMap(({ medium }) => medium.fds);
  const done = Promise.all(files.map((fd) => promisify(fs.fsync)(fd)));
  const stopped = new Promise<"stopped">((resolve) => {
    if (telling.stopped) resolve("stopped");
    telling.outside.stop.addEventListener("abort", () => resolve("stopped"), { once: true });
  });
  const first = await Promise.race([done, stopped]);
  return first === "stopped" ? null : performance.now() - begun;
}

export async function resultOf(
  step: Flow,
  streams: readonly Stream[],
  counted: Counted,
  flushMs: number | null,
): Promise<StepResult> {
  const { curve, moved, shares, processorMs, busiestCore } = counted;
  const bytes = moved.read + moved.written;
  const ms = counted.ms + (step.countFlush && flushMs !== null ? flushMs : 0);
  return {
    ...blankStep("flow", step.label),
    ...flowFigures(step, curve.moments, bytes, ms),
    bytes,
    written: moved.written,
    ms,
    requests: moved.requests,
    ...latenciesOf(streams.map(({ lanes }) => lanes.counters)),
    deviceBytes: await kernelCount(step, streams, bytes),
    flushMs,
    processorUsPerRequest: moved.requests > 0 ? (processorMs * 1e3) / moved.requests : 0,
    busiestCore,
    steady: counted.steady,
    targets: step.targets.length > 1 ? shares : [],
  };
}

async function kernelCount(
  step: Flow,
  streams: readonly Stream[],
  bytes: number,
): Promise<number | null> {
  let sum = 0;
  let all = 0;
  for (const { before, medium, lanes } of streams) {
    const after = medium.target.device ? await bytesMoved(medium.target.device) : null;
    if (!before || !after) return null;
    if (step.writeShare < 1) sum += after.read - before.read;
    if (step.writeShare > 0) sum += after.written - before.written;
    const { read, written } = movedBy(lanes.counters, step.block);
    all += read + written;
  }
  return Math.max(0, sum - (all - bytes));
}
