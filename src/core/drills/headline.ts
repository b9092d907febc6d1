import type { RunResult } from "./result";
import { blankStep, NO_LATENCY } from "./step";

/**
 * A result as a row of numbers: its figures, and the rates of its first step. A study of thousands of
 * runs is read by these; what only the run's own page needs stays in its whole result.
 */
export type Headline = readonly (number | null)[];

export function headlineOf(result: RunResult): Headline {
  const { latencyUs: t, steps, fit } = result;
  const [first] = steps;
  return [
    ...[result.meanMBps, result.iops, result.bytes, result.ms, result.requests],
    ...[t.p50, t.p95, t.p99, t.p999, t.p9999, t.max],
    ...[result.deviceBytes, result.processorUsPerRequest, result.busiestCore],
    ...(first ? [first.meanMBps, first.burstMBps, first.sustainedMBps, first.edgeBytes] : []),
    ...(first && (result.startCelsius !== undefined || fit?.by === "depth")
      ? [result.startCelsius ?? null]
      : []),
    ...(first && fit?.by === "depth"
      ? [fit.singleIops, fit.plateauIops, fit.kneeDepth, fit.rises ? 1 : 0]
      : []),
  ];
}

/** A result by its headline: with no fit but that of a ladder by depth, and with its first step's rates alone. */
export function resultOfHeadline(headline: Headline): RunResult {
  const at = (i: number) => headline[i] ?? 0;
  const [p50, p95, p99, p999, , max] = headline.slice(5, 11).map((value) => value ?? 0);
  return {
    ...{ meanMBps: at(0), iops: at(1), bytes: at(2), ms: at(3), requests: at(4) },
    latencyUs: {
      ...NO_LATENCY,
      p50: p50!,
      p95: p95!,
      p99: p99!,
      p999: p999!,
      max: max!,
      p9999: headline[9] ?? null,
    },
    ...{
      deviceBytes: headline[11] ?? null,
      processorUsPerRequest: at(12),
      busiestCore: headline[13] ?? null,
    },
    steps:
      headline.length > 14
        ? [
            {
              ...blankStep("flow", {}),
              ...{ meanMBps: at(14), burstMBps: at(15), sustainedMBps: at(16) },
              edgeBytes: headline[17] ?? null,
            },
          ]
        : [],
    fit: depthFitIn(headline),
    ...(typeof headline[18] === "number" ? { startCelsius: headline[18] } : {}),
  };
}

function depthFitIn(headline: Headline): RunResult["fit"] {
  const [singleIops, plateauIops, kneeDepth, rises] = headline.slice(19, 23);
  return typeof singleIops === "number" &&
    typeof plateauIops === "number" &&
    typeof kneeDepth === "number"
    ? { by: "depth", singleIops, plateauIops, kneeDepth, rises: rises === 1 }
    : null;
}
