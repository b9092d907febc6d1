import { flowFigures } from "../drills/flow-figures";
import { latenciesFrom, type Times } from "../run/latencies";
import type { Flow } from "../run/program";
import type { Sample, StepResult, TargetShare } from "../run/result";
import { blankStep } from "../run/step";
import { merged, unpackHistogram } from "../stats/histogram";
import { Curve } from "../trace/curve";
import { movedIn } from "../trace/together";

type Counted = "bytes" | "written" | "requests";

/**
 * What a flow over the drives of several machines gave, from its samples on one clock and from what each machine
 * made of its own part. Counted is the time in which all drives were at work.
 *
 * @param samples in order of time, with the targets of the whole
 * @param parts the machines' own results
 */
export function jointResult(
  step: Flow,
  samples: readonly Sample[],
  parts: readonly StepResult[],
): StepResult {
  const targets = step.targets.map((target) => flowOf(step, samples, target));
  const begins = targets.map((own) => own[0]?.from ?? 0);
  const from = Math.max(...begins);
  const to = Math.max(from, Math.min(...targets.map((own) => own.at(-1)?.ms ?? 0)));
  const moved = (own: readonly Sample[], what: Counted, a = from, b = to) =>
    movedIn(own, what, a, b);
  const all = (what: Counted) =>
    Math.round(targets.reduce((sum, own) => sum + moved(own, what), 0));
  const bytes = all("bytes");
  const requests = all("requests");
  const flushes = parts.flatMap(({ flushMs }) => flushMs ?? []);
  const flushMs = flushes.length > 0 ? Math.max(...flushes) : null;
  const ms = to - from + (step.countFlush && flushMs !== null ? flushMs : 0);
  const shares = targets.map((own, i): TargetShare => {
    const its = Math.round(moved(own, "bytes"));
    return {
      target: step.targets[i]!,
      startedMs: begins[i]! - Math.min(...begins),
      meanMBps: to > from ? its / 1e3 / (to - from) : 0,
      bytes: its,
    };
  });
  return {
    ...blankStep("flow", step.label),
    ...flowFigures(step, curveOf(targets, from, to).moments, bytes, ms),
    bytes,
    written: all("written"),
    ms,
    requests,
    ...latenciesFrom(timesOf(parts, "read"), timesOf(parts, "write")),
    deviceBytes: kernelCount(parts, bytes),
    flushMs,
    processorUsPerRequest: costOf(parts),
    busiestCore: busiestOf(parts),
    targets: shares,
  };
}

/** A drive's samples; a flush that counts ends with one of its own, in which nothing is moved. */
function flowOf(step: Flow, samples: readonly Sample[], target: number): readonly Sample[] {
  const own = samples.filter((sample) => sample.target === target);
  const last = own.at(-1);
  return step.countFlush && last?.requests === 0 ? own.slice(0, -1) : own;
}

/** What all drives moved together, at the moments of the first one's samples. */
function curveOf(targets: readonly (readonly Sample[])[], from: number, to: number): Curve {
  const curve = new Curve();
  let last = from;
  for (const { ms } of targets[0] ?? []) {
    if (ms <= last) continue;
    const until = Math.min(ms, to);
    const sum = targets.reduce((bytes, own) => bytes + movedIn(own, "bytes", last, until), 0);
    curve.add(until - from, sum);
    last = until;
    if (until >= to) break;
  }
  return curve;
}

function timesOf(parts: readonly StepResult[], way: "read" | "write"): Times {
  const each = parts.flatMap((part) => part[way] ?? []);
  return {
    histogram: merged(each.map(({ histogram }) => unpackHistogram(histogram))),
    longest: Math.max(0, ...each.map(({ max }) => max * 1e3)),
  };
}

/** Each kernel counted over its own machine's time, a moment longer or shorter than that of all: in proportion. */
function kernelCount(parts: readonly StepResult[], bytes: number): number | null {
  let [counted, own] = [0, 0];
  for (const { deviceBytes, bytes: its } of parts) {
    if (deviceBytes === null) return null;
    counted += deviceBytes;
    own += its;
  }
  return own > 0 ? Math.round((bytes * counted) / own) : null;
}

function costOf(parts: readonly StepResult[]): number {
  const requests = parts.reduce((sum, part) => sum + part.requests, 0);
  const cost = parts.reduce((sum, part) => sum + part.processorUsPerRequest * part.requests, 0);
  return requests > 0 ? cost / requests : 0;
}

/** The busiest core of all machines. */
function busiestOf(parts: readonly StepResult[]): number | null {
  const known = parts.flatMap(({ busiestCore }) => busiestCore ?? []);
  return known.length > 0 ? Math.max(...known) : null;
}
