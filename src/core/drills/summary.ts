import { kindOf, type Drill } from "./drill";
import type { Latency, RunResult, StepResult } from "../run/result";
import { shapeOf } from "./shape";
import { NO_LATENCY } from "../run/step";

/**
 * What a run is known by, from what its steps gave.
 *
 * @param steps in their order; rests among them
 */
export function resultFrom(drill: Drill, steps: readonly StepResult[]): RunResult {
  const kind = kindOf(drill);
  const counted = steps.filter(({ kind: what }) => what !== "rest");
  const sum = (pick: (step: StepResult) => number) =>
    counted.reduce((total, step) => total + pick(step), 0);
  const requests = sum((step) => step.requests);
  const busy = counted.flatMap(({ busiestCore }) => busiestCore ?? []);
  const headline = counted.length > 0 ? kind.headline(counted) : { meanMBps: 0, iops: 0 };
  return {
    ...headline,
    // Where nobody counted the requests they follow from the rate: they are of one size.
    iops: requests > 0 ? headline.iops : iopsAt(drill, headline.meanMBps),
    bytes: sum((step) => step.bytes),
    ms: sum((step) => step.ms),
    requests,
    latencyUs: latencyOf(counted),
    deviceBytes: counted.some((step) => step.deviceBytes === null)
      ? null
      : sum((step) => step.deviceBytes!),
    processorUsPerRequest:
      requests > 0 ? sum((step) => step.processorUsPerRequest * step.requests) / requests : 0,
    busiestCore: busy.length > 0 ? Math.max(...busy) : null,
    steps: [...steps],
    fit: kind.fit?.(counted) ?? null,
  };
}

const iopsAt = (drill: Drill, mbps: number): number => {
  const shape = shapeOf(drill);
  return shape ? (mbps * 1e6) / shape.block : 0;
};

/** Request times of the only step; of several, those of the step with the most requests. */
function latencyOf(steps: readonly StepResult[]): Latency {
  const [most] = steps.toSorted((a, b) => b.requests - a.requests);
  return most?.latencyUs ?? NO_LATENCY;
}

/** A result as an older version stored it, with what it did not keep left empty. */
export function completeResult(result: RunResult): RunResult {
  const { requests, ms, latencyUs } = result;
  return {
    ...result,
    iops: result.iops ?? (ms > 0 ? requests / (ms / 1e3) : 0),
    latencyUs: { ...latencyUs, p9999: latencyUs.p9999 ?? null },
    steps: result.steps ?? [],
    fit: result.fit ?? null,
  };
}
