import { flowFigures } from "../drills/flow-figures";
import { timeIsOver, type Flow } from "../run/program";
import type { Latency, Sample, StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { isSteady, WINDOW } from "../stats/steady";
import { Curve } from "../trace/curve";
import { SAMPLE_MS, type SimulatedRig } from "./bench";

/** No step goes on for longer than this, however slow its drive: a week. */
const LONGEST_MS = 7 * 86_400e3;

/**
 * Does a flow on the simulated bench: requests kept in flight over a stretch, until its time, its
 * bytes or its rounds are over.
 */
export function simulateFlow(rig: SimulatedRig, step: Flow, number: number): StepResult {
  const bays = step.targets;
  const flow = new Counting(step, number, bays);
  const filled = rig.bays[bays[0]!]!.drive.filledBytes;
  const length = step.bytes ?? (step.seconds === null ? step.span : Infinity);
  for (let ms = 0; ms < step.leadIn * 1e3; ms += SAMPLE_MS) {
    const seconds = Math.min(SAMPLE_MS, step.leadIn * 1e3 - ms) / 1e3;
    rig.tick(bays, step, filled + step.first, seconds);
  }
  const start = rig.now;
  const begins = bays.map((_, i) => i * step.everySeconds * 1e3);
  const full = begins.at(-1)!;
  const end = step.seconds === null ? LONGEST_MS : full + step.seconds * 1e3;
  const isOver = (ms: number) =>
    ms >= LONGEST_MS || timeIsOver(step, ms - full, flow.countedRequests);
  let [most, latest, busiest] = [0, 0, 0];
  for (let ms = 0; !isOver(ms) && flow.left(length) > 0;) {
    let width = ms < end ? Math.min(SAMPLE_MS, end - ms) : SAMPLE_MS;
    const working = bays.filter((_, i) => begins[i]! <= ms);
    const at = filled + step.first + (flow.bytes % Math.max(step.block, step.span));
    const rates = rig.tick(working, step, at, width / 1e3);
    const sum = rates.reduce((total, rate) => total + rate, 0);
    // What ends by its bytes ends within a tick.
    const needed = sum > 0 ? flow.left(length) / 1e3 / sum : Infinity;
    const last = needed <= width;
    if (last) width = Math.max(needed, 0.001);
    const from = rig.now;
    rig.advance(width);
    ms += width;
    working.forEach((bay, i) => {
      const bytes = last && working.length === 1 ? flow.left(length) : rates[i]! * 1e3 * width;
      rig.samples.push(flow.take(bay, from, rig.now, bytes, ms > full));
    });
    latest = rig.requestUs(step, sum / working.length);
    most = Math.max(most, latest);
    busiest = Math.max(busiest, rig.busiestCore);
    if (flow.isOver(ms)) break;
  }
  const figures = flow.figures(rig.now - start - full);
  return {
    ...blankStep("flow", step.label),
    ...figures,
    latencyUs: latencies(flow.meanUs(rig, rig.now - start - full), most),
    deviceBytes: rig.answersFromMemory && step.writeShare < 1 ? 0 : figures.bytes,
    flushMs: step.countFlush === null ? null : 0,
    processorUsPerRequest: rig.simulation.bench.processorUs,
    busiestCore: busiest,
    targets: bays.length > 1 ? flow.shares(begins, rig.now - start - full) : [],
  };
}

/** What was moved in a flow: whole requests only, and none of them twice. */
class Counting {
  bytes = 0;
  private written = 0;
  private requests = 0;
  private writes = 0;
  /** Begun and not yet ended, by bay. */
  private readonly pending = new Map<number, number>();
  private readonly moved = new Map<number, number>();
  private curve = new Curve();
  private curveFrom: number | null = null;
  private readonly rounds: { ms: number; bytes: number }[] = [];
  private steady: StepResult["steady"] = null;
  private counted = 0;

  constructor(
    private readonly step: Flow,
    private readonly number: number,
    private readonly bays: readonly number[],
  ) {}

  /** Requests since all drives are at work. */
  get countedRequests(): number {
    return this.counted / this.step.block;
  }

  left(length: number): number {
    return length - this.bytes;
  }

  /** Takes in what passed. @param counts whether all drives are at work */
  take(bay: number, from: number, ms: number, amount: number, counts: boolean): Sample {
    const { block, writeShare } = this.step;
    const all = (this.pending.get(bay) ?? 0) + amount;
    const requests = Math.floor(all / block + 1e-6);
    const bytes = requests * block;
    this.pending.set(bay, Math.max(0, all - bytes));
    const writes = Math.floor((this.requests + requests) * writeShare) - this.writes;
    this.writes += writes;
    const written = writes * block;
    this.bytes += bytes;
    this.written += written;
    this.requests += requests;
    if (counts) {
      this.counted += bytes;
      this.moved.set(bay, (this.moved.get(bay) ?? 0) + bytes);
      this.curveFrom ??= from;
      this.curve.add(ms - this.curveFrom, bytes);
    }
    return { from, ms, bytes, written, requests, step: this.number, target: bay };
  }

  /** Whether a flow that goes on until it is steady is, or has gone on for long enough. */
  isOver(ms: number): boolean {
    const { steady } = this.step;
    if (!steady) return false;
    const before = this.rounds.at(-1) ?? { ms: 0, bytes: 0 };
    if (ms - before.ms < steady.roundSeconds * 1e3 - 1e-6) return false;
    this.rounds.push({ ms, bytes: this.bytes });
    const means = this.rounds.map((round, i) => {
      const { ms: at, bytes } = this.rounds[i - 1] ?? { ms: 0, bytes: 0 };
      return (round.bytes - bytes) / (round.ms - at);
    });
    this.steady = { rounds: means.length, reached: isSteady(means) };
    return this.steady.reached || means.length >= steady.most;
  }

  figures(ms: number) {
    // Of one that went on until it was steady, the last five rounds count.
    const mark = this.steady && this.rounds.at(-1 - WINDOW);
    let moments = this.curve.moments;
    let bytes = this.counted;
    let time = ms;
    if (mark) {
      moments = moments
        .filter((moment) => moment.ms > mark.ms)
        .map((moment) => ({ ...moment, ms: moment.ms - mark.ms }));
      bytes -= mark.bytes;
      time -= mark.ms;
    }
    const share = this.counted > 0 ? bytes / this.bytes : 0;
    return {
      ...flowFigures(this.step, moments, bytes, time),
      bytes,
      written: this.written * share,
      ms: time,
      requests: Math.round(this.requests * share),
      steady: this.steady,
    };
  }

  meanUs(rig: SimulatedRig, ms: number): number {
    return ms > 0 ? rig.requestUs(this.step, this.counted / 1e3 / ms / this.bays.length) : 0;
  }

  shares(begins: readonly number[], ms: number) {
    return this.bays.map((target, i) => ({
      target,
      startedMs: begins[i]!,
      meanMBps: ms > 0 ? (this.moved.get(target) ?? 0) / 1e3 / ms : 0,
      bytes: this.moved.get(target) ?? 0,
    }));
  }
}

/**
 * Request times round their mean, spread as a logarithmic normal distribution of 12 %, at its
 * quantiles; the longest is that of the slowest tenth of a second.
 */
function latencies(meanUs: number, mostUs: number): Latency {
  const at = (sigmas: number) => meanUs * Math.exp(0.12 * sigmas);
  const [p50, p95, p99, p999] = [at(0), at(1.645), at(2.326), at(3.09)];
  return { p50, p95, p99, p999, p9999: null, max: Math.max(p999, mostUs) };
}
