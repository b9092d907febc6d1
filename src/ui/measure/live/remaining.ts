import { programOf, type Drill } from "@/core/drills/drill";
import { leastSeconds } from "@/core/run/program";
import type { Sample } from "@/core/run/result";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import { MB } from "@/core/units/rate";
import { formatSeconds } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import type { StepNow } from "./use-measurement";

/** How long one repeat takes, where it ends by time alone. */
export function secondsOf(drill: Drill): number | null {
  const program = programOf(drill, 2);
  const byTime = program.every(
    (step) => step.do === "rest" || (step.do === "flow" && step.bytes === null && !step.steady),
  );
  const [only] = program;
  return byTime && program.length === 1 && only?.do === "flow" && only.targets.length === 1
    ? only.seconds
    : null;
}

/** The step that is going on, also where the page was opened in the middle of it. */
export function stepOf(measurement: Measurement, told: StepNow | null): StepNow | null {
  const last = measurement.runs.at(-1)?.samples.at(-1);
  if (told || !last) return told;
  const program = programOf(measurement.drill, targetsOf(measurement).length);
  const step = program[last.step];
  if (!step) return null;
  return {
    step: last.step,
    of: program.length,
    name: step.label.name ?? null,
    doing: step.do,
    seconds: "seconds" in step ? step.seconds : null,
    bytes: step.do === "flow" || step.do === "replay" ? step.bytes : null,
  };
}

/** What is being done: which repeat, which step. */
export function phaseOf({ drill, runs }: Measurement, now: StepNow | null): string {
  const current = runs.at(-1);
  if (!current) return "getting ready";
  return (
    [
      ...(drill.repeats > 1 ? [`repeat ${current.repeat + 1} of ${drill.repeats}`] : []),
      ...(now && now.of > 1
        ? [`step ${now.step + 1} of ${now.of}${now.name ? `, ${now.name}` : ""}`]
        : []),
      ...(now?.doing === "rest" ? [`resting ${formatSeconds(now.seconds ?? 0)}`] : []),
    ].join(" · ") || "measuring"
  );
}

/**
 * How long it will still take, seconds, as far as it can be told: what ends by time takes its time, what
 * ends by bytes takes what it takes at the rate of the last seconds, and further repeats take what their steps say.
 *
 * @param inStep samples of the step that is going on
 * @param rate its rate of the last seconds, MB/s
 * @returns null where it cannot be told
 */
export function secondsLeft(
  measurement: Measurement,
  now: StepNow | null,
  inStep: readonly Sample[],
  rate: number,
): number | null {
  const { drill, runs } = measurement;
  const current = runs.at(-1);
  if (!current || !now) return null;
  const program = programOf(drill, targetsOf(measurement).length);
  const repeats = drill.repeats - current.repeat - 1;
  const later = leastSeconds(program.slice(now.step + 1)) + repeats * leastSeconds(program);
  const [first] = inStep;
  const into = first ? (inStep.at(-1)!.ms - first.from) / 1e3 : 0;
  const byTime = now.seconds === null ? Infinity : Math.max(0, now.seconds - into);
  const moved = inStep.reduce((sum, { bytes }) => sum + bytes, 0);
  const byBytes =
    now.bytes === null || rate <= 0 ? Infinity : Math.max(0, (now.bytes - moved) / MB / rate);
  const here = Math.min(byTime, byBytes);
  return Number.isFinite(here) ? here + later : null;
}

/** How far a step is that ends by bytes; null for any other. */
export function bytesDone(now: StepNow | null, inStep: readonly Sample[]): string | null {
  if (!now?.bytes) return null;
  const moved = inStep.reduce((sum, { bytes }) => sum + bytes, 0);
  return `${formatSize(moved, 1000)} of ${formatSize(now.bytes, 1000)}`;
}
