import { latenciesFrom, type StepLatencies, type Times } from "@/core/run/latencies";
import { merged } from "@/core/stats/histogram";
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
