import type { Drill } from "../drills/drill";
import { WATCHED } from "../drills/kinds/watched";
import type { RunEvent, Sample, StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { levelsOf } from "../reading/levels";
import { meanRate } from "../trace/rates";
import type { Mark } from "./tally";

/** From this share on all the rest is the job's own book-keeping, not a second direction. */
const ONE_WAY = 0.95;

/**
 * What was watched, as a run: which way it went, and what a trace shows of it. Request times are not
 * known, and the mean is of the whole time: where a job begins and ends, the tester's marks say.
 *
 * @param samples in order of time, from 0
 * @param title what was going on, in the tester's words
 */
export function watchedRun(
  samples: readonly Sample[],
  title: string,
): { drill: Drill; step: StepResult } {
  const sum = (pick: (sample: Sample) => number) =>
    samples.reduce((total, sample) => total + pick(sample), 0);
  const [bytes, written] = [sum((one) => one.bytes), sum((one) => one.written)];
  const share = bytes > 0 ? written / bytes : 0;
  const direction = share >= ONE_WAY ? "write" : share <= 1 - ONE_WAY ? "read" : "mixed";
  const { burst, sustained, edgeBytes } = levelsOf(samples);
  const step: StepResult = {
    ...blankStep("flow", {}),
    bytes,
    written,
    meanMBps: meanRate(samples),
    ms: samples.at(-1)?.ms ?? 0,
    requests: sum(({ requests }) => requests),
    deviceBytes: bytes,
    burstMBps: burst,
    sustainedMBps: sustained,
    edgeBytes,
  };
  const drill: Drill = { name: WATCHED.name, direction, repeats: 1, ...(title ? { title } : {}) };
  return { drill, step };
}

/** Marks within a run, as what happened in it. @param from where the run begins */
export const markEvents = (marks: readonly Mark[], from: Mark, to: Mark): RunEvent[] =>
  marks
    .filter(({ ms }) => ms >= from.ms && ms <= to.ms)
    .map(({ ms, name }) => ({ ms: ms - from.ms, kind: "mark", text: name, from: null }));
