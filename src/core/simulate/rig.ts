import { canQueue, predictedRate } from "../chain/predict";
import { requestTimes } from "../chain/request-time";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import { programOf, type Drill } from "../drills/drill";
import type { Latency, Sample, StepResult } from "../drills/result";
import { blankStep, plainSample } from "../drills/step";
import { headlineRate } from "../trace/rates";
import { MB } from "../units/rate";
import { correlated, normal, seeded } from "./noise";

/** What a simulated measurement hands over: samples, and what its step gave, as the engine does. */
export interface SimulatedRun {
  samples: Sample[];
  step: StepResult;
}

/** Samples a second, as the engine takes them. */
const SAMPLE_MS = 100;
/** Share of the rate by which tenths of a second, and whole repeats, differ on a quiet bench. */
const SAMPLE_NOISE = 0.012;
const REPEAT_NOISE = 0.004;

/**
 * A first, simple stand-in for a rig: it runs at what its narrowest stage attains, with noise that
 * is correlated in time and a share of slow requests. It returns samples, never results.
 *
 * @param seed same seed, same run
 */
export function simulateRig(rig: Rig, drill: Drill, seed: number): SimulatedRun {
  const random = seeded(seed);
  const direction = drill.direction === "mixed" ? "read" : drill.direction;
  const stages = stagesOf(rig, direction);
  const narrowest = stages.toSorted((a, b) => a.ceiling - b.ceiling)[0];
  const flow = programOf(drill).find((step) => step.do === "flow");
  if (!flow || !narrowest || narrowest.ceiling <= 0) {
    return { samples: [], step: blankStep("flow", {}) };
  }
  const { block, depth, seconds } = flow;

  // Where in the attainable band a rig settles is a property of its parts, not of the repeat.
  const settle = 0.55 + 0.4 * seeded(hash(narrowest.key + direction))();
  const { low, high } = narrowest.attainable;
  const steady = low + (high - low) * settle;
  const rate = predictedRate(
    steady,
    requestTimes(rig, direction).reduce((sum, { us }) => sum + us, 0),
    block,
    depth,
    canQueue(rig),
  );
  const level = rate * (1 + REPEAT_NOISE * normal(random));
  const noise = correlated(random, 0.7);
  const count = Math.round(((seconds ?? 10) * 1e3) / SAMPLE_MS);
  const samples = Array.from({ length: count }, (_, i): Sample => {
    const mbps = Math.min(level * (1 + SAMPLE_NOISE * noise()), narrowest.ceiling);
    const requests = Math.round((mbps * MB * (SAMPLE_MS / 1e3)) / block);
    const at = plainSample(
      i * SAMPLE_MS,
      (i + 1) * SAMPLE_MS,
      requests * block,
      direction === "write",
    );
    return { ...at, requests };
  });
  const bytes = samples.reduce((sum, sample) => sum + sample.bytes, 0);
  const mean = headlineRate(samples);
  return {
    samples,
    step: {
      ...blankStep("flow", {}),
      meanMBps: mean,
      bytes,
      written: direction === "write" ? bytes : 0,
      ms: count * SAMPLE_MS,
      requests: bytes / block,
      latencyUs: latencies((depth * block) / rate, random),
      burstMBps: mean,
      sustainedMBps: mean,
    },
  };
}

/** Request times round their mean (by Little's law, in flight / rate), with a log-normal tail. */
function latencies(meanUs: number, random: () => number): Latency {
  const at = (sigmas: number) => meanUs * Math.exp(0.12 * sigmas) * (1 + 0.01 * normal(random));
  const [p50, p95, p99, p999, max] = [0, 1.64, 2.33, 3.09, 4.2].map(at).sort((a, b) => a - b);
  return { p50: p50!, p95: p95!, p99: p99!, p999: p999!, p9999: null, max: max! };
}

/** FNV-1a, 32 bits. */
function hash(text: string): number {
  let value = 0x811c9dc5;
  for (const char of text) value = Math.imul(value ^ char.codePointAt(0)!, 0x01000193);
  return value >>> 0;
}
