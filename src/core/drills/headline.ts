import type { CopyResult, Fit, RunResult } from "../run/result";
import { blankStep, NO_LATENCY } from "../run/step";

/**
 * A result as a row of numbers: its figures, and the rates of its first step. A study of thousands of
 * runs is read by these; what only the run's own page needs stays in its whole result.
 */
export type Headline = readonly (number | null)[];

export function headlineOf(result: RunResult): Headline {
  const { latencyUs: t, steps, fit } = result;
  const [first] = steps;
  const copy = steps.find((step) => step.copy)?.copy ?? null;
  const more = first
    ? [
        [result.startCelsius ?? null],
        byDepth(fit),
        byBlock(fit),
        waits(copy),
        [first.interrupted === undefined ? null : Number(first.interrupted)],
      ]
    : [];
  // What nothing was seen of takes no room at the end.
  while (more.at(-1)?.every((value) => value === null)) more.pop();
  return [
    result.meanMBps,
    result.iops,
    result.bytes,
    result.ms,
    result.requests,
    t.p50,
    t.p95,
    t.p99,
    t.p999,
    t.p9999,
    t.max,
    result.deviceBytes,
    result.processorUsPerRequest,
    result.busiestCore,
    ...(first ? [first.meanMBps, first.burstMBps, first.sustainedMBps, first.edgeBytes] : []),
    ...more.flat(),
  ];
}

const byDepth = (fit: Fit | null) =>
  fit?.by === "depth"
    ? [fit.singleIops, fit.plateauIops, fit.kneeDepth, fit.rises ? 1 : 0]
    : [null, null, null, null];

const byBlock = (fit: Fit | null) =>
  fit?.by === "block"
    ? [fit.overheadUs, fit.asymptoteMBps, fit.halfRateBytes, fit.worst]
    : [null, null, null, null];

const waits = (copy: CopyResult | null) =>
  copy ? [copy.waitedForFromMs, copy.waitedForToMs] : [null, null];

/** A result by its headline: with its first step's rates alone, and of a copy where it waited. */
export function resultOfHeadline(headline: Headline): RunResult {
  const at = (i: number) => headline[i] ?? 0;
  const [p50, p95, p99, p999, , max] = headline.slice(5, 11).map((value) => value ?? 0);
  return {
    meanMBps: at(0),
    iops: at(1),
    bytes: at(2),
    ms: at(3),
    requests: at(4),
    latencyUs: {
      ...NO_LATENCY,
      p50: p50!,
      p95: p95!,
      p99: p99!,
      p999: p999!,
      max: max!,
      p9999: headline[9] ?? null,
    },
    deviceBytes: headline[11] ?? null,
    processorUsPerRequest: at(12),
    busiestCore: headline[13] ?? null,
    steps:
      headline.length > 14
        ? [
            {
              ...blankStep("flow", {}),
              meanMBps: at(14),
              burstMBps: at(15),
              sustainedMBps: at(16),
              edgeBytes: headline[17] ?? null,
              copy: copyIn(headline),
              ...(typeof headline[29] === "number" ? { interrupted: headline[29] === 1 } : {}),
            },
          ]
        : [],
    fit: depthFitIn(headline) ?? blockFitIn(headline),
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

function blockFitIn(headline: Headline): RunResult["fit"] {
  const [overheadUs, asymptoteMBps, halfRateBytes, worst] = headline.slice(23, 27);
  return typeof overheadUs === "number" &&
    typeof asymptoteMBps === "number" &&
    typeof halfRateBytes === "number" &&
    typeof worst === "number"
    ? { by: "block", overheadUs, asymptoteMBps, halfRateBytes, worst }
    : null;
}

/** Of a copy where it waited; its files are in the whole result alone. */
function copyIn(headline: Headline): CopyResult | null {
  const [waitedForFromMs, waitedForToMs] = headline.slice(27, 29);
  if (typeof waitedForFromMs !== "number" || typeof waitedForToMs !== "number") return null;
  return {
    files: 0,
    waitedForFromMs,
    waitedForToMs,
    perFileMs: null,
    perByteMBps: null,
    fromMemory: null,
    verified: 0,
    differing: [],
    kept: null,
  };
}
