import * as z from "zod";
import { flowFigures } from "../drills/flow-figures";
import { levelsOf } from "../reading/levels";
import { joinedFaults } from "../run/faults";
import { StepLabel } from "../run/program";
import { FaultKind, type StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { merged, percentiles, unpackHistogram } from "../stats/histogram";
import { Curve } from "../trace/curve";
import { MOST_BYTES, MOST_MS, MOST_REQUESTS, MOST_STEPS } from "../units/bounds";
import type { RecordedRun } from "./runs-file";

const count = z.number().int().nonnegative();
const bytes = count.max(MOST_BYTES);
const ms = z.number().nonnegative().max(MOST_MS);

/** Request times of one way, and the longest in nanoseconds. */
const Times = z.object({
  histogram: z.string().max(200_000),
  maxNs: z
    .number()
    .nonnegative()
    .max(MOST_MS * 1e6),
});

/** What the program counted of a step; its figures are worked out here, as for what Nerrit measures itself. */
export const Counted = z.object({
  event: z.literal("counted"),
  repeat: count.max(49),
  step: count.max(MOST_STEPS),
  doing: z.enum(["flow", "check"]),
  label: StepLabel,
  seconds: z.number().positive().max(MOST_MS).nullable(),
  /** It ends after so many; null: it does not. */
  bytes: bytes.nullable(),
  countFlush: z.boolean().nullable(),
  block: bytes.min(1),
  requests: count.max(MOST_REQUESTS),
  startMs: ms,
  ms,
  read: bytes,
  written: bytes,
  processorUs: z
    .number()
    .nonnegative()
    .max(MOST_MS * 1e3),
  deviceBytes: bytes.nullable(),
  flushMs: ms.nullable(),
  /** Of a step that went on until it was steady: after how many rounds, and whether it got there. */
  steady: z
    .object({ rounds: count.max(MOST_STEPS), reached: z.boolean() })
    .nullable()
    .default(null),
  readTimes: Times.nullable(),
  writeTimes: Times.nullable(),
  /** Kind by its number (stamp.h), offset, bytes. */
  faults: z.array(z.tuple([count.min(1).max(4), bytes, bytes])).max(100_000),
  moreFaults: count,
});
export type Counted = z.infer<typeof Counted>;

type Row = RecordedRun["samples"][number];

/**
 * What a step gave.
 *
 * @param samples of the step, in the order of a file of runs; others are left out
 */
export function stepOf(counted: Counted, samples: readonly Row[]): StepResult {
  const { label, doing, requests, read, written, flushMs, block } = counted;
  const bytes = read + written;
  const ms = counted.ms + (counted.countFlush && flushMs !== null ? flushMs : 0);
  return {
    ...blankStep(doing, label),
    ...ratesOf(counted, momentsOf(counted, samples), bytes, ms),
    bytes,
    written,
    ms,
    requests,
    ...timesOf(counted),
    deviceBytes: counted.deviceBytes,
    flushMs,
    steady: counted.steady,
    processorUsPerRequest: requests > 0 ? counted.processorUs / requests : 0,
    faults: joinedFaults(
      counted.faults.map(([kind, offset, length]) => ({
        kind: FaultKind.options[kind - 1]!,
        offset,
        bytes: length,
      })),
      block,
    ),
    moreFaults: counted.moreFaults,
  };
}

/** What moved in the counted time of a step, from its beginning. */
export function momentsOf(
  { step, startMs, ms }: Pick<Counted, "step" | "startMs" | "ms">,
  samples: readonly Row[],
): Curve["moments"] {
  const curve = new Curve();
  const end = startMs + ms + ROUNDED_MS;
  for (const [from, at, moved, , , of] of samples)
    if (of === step && from >= startMs - ROUNDED_MS && at <= end) curve.add(at - startMs, moved);
  return curve.moments;
}

/** Moments are written to the microsecond. */
const ROUNDED_MS = 0.01;

function ratesOf(
  counted: Counted,
  moments: Curve["moments"],
  bytes: number,
  ms: number,
): Pick<StepResult, "meanMBps" | "burstMBps" | "sustainedMBps" | "edgeBytes" | "interrupted"> {
  if (counted.doing === "flow") return flowFigures(counted, moments, bytes, ms);
  const { burst, sustained, edgeBytes } = levelsOf(moments);
  return {
    meanMBps: ms > 0 ? bytes / 1e3 / ms : 0,
    burstMBps: burst,
    sustainedMBps: sustained,
    edgeBytes,
  };
}

function timesOf({
  readTimes,
  writeTimes,
}: Counted): Pick<StepResult, "read" | "write" | "latencyUs"> {
  const each = [readTimes, writeTimes].map((times) =>
    times === null ? null : { ...times, counts: unpackHistogram(times.histogram) },
  );
  const [read, write] = each.map((times) =>
    times === null
      ? null
      : { ...percentiles(times.counts, times.maxNs), histogram: times.histogram },
  );
  return {
    read: read!,
    write: write!,
    latencyUs: percentiles(
      merged(each.map((times) => times?.counts ?? [])),
      Math.max(0, ...each.map((times) => times?.maxNs ?? 0)),
    ),
  };
}
