import type { Moment } from "../trace/curve";
import { levelsOf } from "../reading/levels";
import { headlineRate } from "../trace/rates";
import type { Flow } from "../run/program";
import type { StepResult } from "../run/result";

/**
 * The rates of a flow, MB/s.
 *
 * @param moments of the counted time, in order
 * @param ms counted, with the flush where that counts
 */
export function flowFigures(
  step: Pick<Flow, "seconds" | "bytes" | "countFlush">,
  moments: readonly Moment[],
  bytes: number,
  ms: number,
): Pick<StepResult, "meanMBps" | "burstMBps" | "sustainedMBps" | "edgeBytes" | "interrupted"> {
  // A flow of a set time is cut out of a longer one; one of so many bytes is the whole.
  const cutOut = step.seconds !== null && step.bytes === null && !step.countFlush;
  const levels = levelsOf(moments);
  return {
    meanMBps: cutOut ? headlineRate(moments) : ms > 0 ? bytes / 1e3 / ms : 0,
    burstMBps: levels.burst,
    sustainedMBps: levels.sustained,
    edgeBytes: levels.edgeBytes,
    interrupted: levels.interrupted,
  };
}
