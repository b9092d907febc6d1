import { merged, packHistogram, percentiles } from "../stats/histogram";
import type { DirectionLatency, StepResult } from "./result";

export type StepLatencies = Pick<StepResult, "read" | "write" | "latencyUs">;

/** Request times of one direction: counts by bucket, and the longest in nanoseconds. */
export interface Times {
  histogram: Float64Array;
  longest: number;
}

/** Request times of a step, from those of its two directions. */
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
