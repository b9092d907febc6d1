import type { DirectionLatency, StepResult } from "@/core/run/result";
import { merged, packHistogram, percentiles } from "@/core/stats/histogram";
import { timesOf, type Counters } from "../lanes/counters";

/** Request times of a step, each way and together. */
export function latenciesOf(counters: readonly Counters[]): StepLatencies {
  const [reading, writing] = ([0, 1] as const).map((way) => {
    const each = counters.map((one) => timesOf(one, way));
    return {
      histogram: merged(each.map(({ histogram }) => histogram)),
      longest: Math.max(0, ...each.map(({ longest }) => longest)),
    };
  }) as [Times, Times];
  return latenciesFrom(reading, writing);
}

export type StepLatencies = Pick<StepResult, "read" | "write" | "latencyUs">;

/** Request times of one direction: counts by bucket, and the longest in nanoseconds. */
export interface Times {
  histogram: Float64Array;
  longest: number;
}

export const latenciesFrom = (reading: Times, writing: Times): StepLatencies => ({
  read: latency(reading),
  write: latency(writing),
  latencyUs: percentiles(
    merged([reading.histogram, writing.histogram]),
    Math.max(reading.longest, writing.longest),
  ),
});

function latency({ histogram, longest }: Times): DirectionLatency | null {
  const packed = packHistogram(histogram);
  return packed === "" ? null : { ...percentiles(histogram, longest), histogram: packed };
}
