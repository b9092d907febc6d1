import type { PlanStep } from "@/core/plan/plan";
import { summarise } from "@/core/stats/repeats";
import { runsOfMeasurements } from "@/store/runs";
import type { PlanRecord } from "./plan-record";

/** Further repeats tell nothing once the interval is narrow enough. */
export function leaveOutNarrow(record: PlanRecord, id: string, { rigId, drill }: PlanStep): void {
  const { plan, steps } = record.row(id);
  if (plan.narrowEnough === null) return;
  const alike = (step: PlanStep) => step.rigId === rigId && step.drill === drill && !step.warmUp;
  const done = steps.filter((step) => alike(step) && step.state === "done");
  const means = runsOfMeasurements(
    record.store,
    done.flatMap(({ measurementId }) => measurementId ?? []),
  ).flatMap(({ result }) => (result ? [result.meanMBps] : []));
  // Two repeats can lie close by chance.
  if (means.length < 3) return;
  const { interval, mean } = summarise(means);
  const half = (interval!.high - interval!.low) / 2;
  if (half > mean * plan.narrowEnough) return;
  const note = `the interval was narrow enough after ${means.length}`;
  record.change(id, {
    steps: steps.map((step) =>
      alike(step) && step.state === "waiting" ? { ...step, state: "not needed", note } : step,
    ),
  });
}
