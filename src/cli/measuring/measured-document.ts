import { farLoadOf } from "@/core/reading/far-load";
import type {
  Conditions,
  ErrorCount,
  Reading,
  RunEvent,
  RunResult,
  Sample,
  StepResult,
} from "@/core/run/result";
import { iopsOf } from "@/core/drills/kind";
import { kindOf, type Drill } from "@/core/drills/drill";
import { copyEnds, waitedFor } from "@/core/drills/copy-ends";
import { proofOf } from "@/core/drills/proof-faults";
import { workFigures } from "@/core/drills/work-figures";
import { summarise } from "@/core/stats/repeats";

/** What one repeat brought home. */
export interface Repeat {
  samples: Sample[];
  steps: StepResult[];
  events: RunEvent[];
  readings: Reading[];
  errors: ErrorCount[];
  result: RunResult | null;
}

/** The repeat whose rate is in the middle: the one to quote everything but the rate of. */
export function middle<T extends { result: RunResult | null }>(repeats: readonly T[]): T {
  const done = repeats
    .filter(({ result }) => result !== null)
    .toSorted((a, b) => a.result!.meanMBps - b.result!.meanMBps);
  return done[Math.floor((done.length - 1) / 2)]!;
}

/** A drill, and the names of the places that it was done on. */
export interface MeasuredDrill {
  drill: Drill;
  targets: readonly string[];
}

/** The document of `nerrit measure --json` (docs/formats.md). */
export function measuredDocument(
  { drill, targets }: MeasuredDrill,
  repeats: readonly Repeat[],
  conditions: Conditions,
) {
  const results = repeats.flatMap(({ result }) => result ?? []);
  const total = (pick: (result: RunResult) => number) =>
    results.reduce((sum, result) => sum + pick(result), 0);
  const quoted = results.length > 0 ? middle(repeats) : null;
  const rates = results.length > 0 ? summarise(results.map(({ meanMBps }) => meanMBps)) : null;
  const iops = results.length > 0 ? summarise(results.map((result) => result.iops)) : null;
  return {
    meanMBps: rates?.median ?? 0,
    iops: iops?.median ?? 0,
    repeats: rates && {
      n: rates.n,
      medianMBps: rates.median,
      meanMBps: rates.mean,
      spread: rates.spread,
      cv: rates.cv,
      intervalMBps: rates.interval,
    },
    bytes: total((r) => r.bytes),
    ms: total((r) => r.ms),
    requests: total((r) => r.requests),
    deviceBytes: results.some((r) => r.deviceBytes === null) ? null : total((r) => r.deviceBytes!),
    latencyUs: quoted?.result?.latencyUs ?? null,
    farHost: quoted ? farLoadOf(quoted.readings) : null,
    ...(quoted ? ofKind(drill, quoted, targets) : {}),
    samples: repeats.flatMap(({ samples }, repeat) => samples.map((s) => ({ repeat, ...s }))),
    readings: repeats.flatMap(({ readings }, repeat) => readings.map((r) => ({ repeat, ...r }))),
    events: repeats.flatMap(({ events }, repeat) => events.map((e) => ({ repeat, ...e }))),
    errors: repeats.flatMap(({ errors }, repeat) => errors.map((e) => ({ repeat, ...e }))),
    runs: results,
    drill,
    conditions,
  };
}

/** What only drills of one kind have, of the repeat with the middle rate. */
function ofKind(
  drill: Drill,
  { result }: Repeat,
  targets: readonly string[],
): Record<string, unknown> {
  const { steps: all, fit } = result!;
  const steps = all.filter(({ kind }) => kind !== "rest");
  const [first] = steps;
  switch (kindOf(drill).picture) {
    case "by block":
    case "by depth":
      return { steps: steps.map(stepOf), fit };
    case "position":
    case "steps":
      return { steps: steps.map(stepOf) };
    case "fill": {
      const { burstMBps, sustainedMBps, edgeBytes, flushMs } = first!;
      return { burstMBps, sustainedMBps, edgeBytes, flushMs };
    }
    case "copy": {
      const copy = first!.copy!;
      const { waitedForFromMs: from, waitedForToMs: to } = copy;
      const ends = copyEnds(targets, drill.direction);
      const sides = [
        { target: ends.from, role: "from", waitedMs: from },
        { target: ends.to, role: "to", waitedMs: to },
      ];
      return {
        files: copy.files,
        perFileMs: copy.perFileMs,
        perByteMBps: copy.perByteMBps,
        fromMemory: copy.fromMemory,
        sides: sides.filter(({ target }) => target !== null),
        waitedFor: waitedFor(from, to, first!.ms),
        verified: copy.verified,
        differing: copy.differing,
        kept: copy.kept,
      };
    }
    case "targets":
      return {
        targets: first!.targets.map(({ target, ...rest }) => ({
          target: targets[target],
          ...rest,
        })),
      };
    case "proof":
      return proofOf(steps);
    case "work":
      return { ...workFigures(steps), phases: steps.flatMap(({ replay }) => replay?.phases ?? []) };
    default:
      return { flushMs: first?.flushMs ?? null, steady: first?.steady ?? null };
  }
}

const stepOf = (step: StepResult) => ({
  ...step.label,
  meanMBps: step.meanMBps,
  iops: iopsOf(step),
  latencyUs: step.latencyUs,
  bytes: step.bytes,
  ms: step.ms,
  ...(step.edgeBytes === null ? {} : { edgeBytes: step.edgeBytes }),
  ...(step.label.restSeconds === undefined ? {} : { burstMBps: step.burstMBps }),
});
