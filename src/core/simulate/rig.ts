import { canQueue, predictedRate } from "../chain/predict";
import { requestTimes } from "../chain/request-time";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import type { Drill } from "../drills/drill";
import type { Latency, Sample } from "../drills/result";
import { MB } from "../units/rate";
import { correlated, normal, seeded } from "./noise";

/** What a simulated measurement hands over: samples and request times, as the engine does. */
export interface SimulatedRun {
  samples: Sample[];
  latencyUs: Latency;
  requests: number;
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
  const stages = stagesOf(rig, drill.direction);
  const narrowest = stages.toSorted((a, b) => a.ceiling - b.ceiling)[0];
  if (!narrowest || narrowest.ceiling <= 0) return { samples: [], latencyUs: NONE, requests: 0 };

  // Where in the attainable band a rig settles is a property of its parts, not of the repeat.
  const settle = 0.55 + 0.4 * seeded(hash(narrowest.key + drill.direction))();
  const { low, high } = narrowest.attainable;
  const steady = low + (high - low) * settle;
  const rate = predictedRate(
    steady,
    requestTimes(rig, drill.direction).reduce((sum, { us }) => sum + us, 0),
    drill.block,
    drill.depth,
    canQueue(rig),
  );
  const level = rate * (1 + REPEAT_NOISE * normal(random));
  const noise = correlated(random, 0.7);
  const count = Math.round((drill.seconds * 1e3) / SAMPLE_MS);
  const samples = Array.from({ length: count }, (_, i): Sample => {
    const mbps = Math.min(level * (1 + SAMPLE_NOISE * noise()), narrowest.ceiling);
    const blocks = Math.round((mbps * MB * (SAMPLE_MS / 1e3)) / drill.block);
    return { ms: (i + 1) * SAMPLE_MS, bytes: blocks * drill.block };
  });
  const requests = samples.reduce((sum, { bytes }) => sum + bytes, 0) / drill.block;
  return { samples, requests, latencyUs: latencies((drill.depth * drill.block) / rate, random) };
}

const NONE: Latency = { p50: 0, p95: 0, p99: 0, p999: 0, max: 0 };

/** Request times round their mean (by Little's law, in flight / rate), with a log-normal tail. */
function latencies(meanUs: number, random: () => number): Latency {
  const at = (sigmas: number) => meanUs * Math.exp(0.12 * sigmas) * (1 + 0.01 * normal(random));
  const [p50, p95, p99, p999, max] = [0, 1.64, 2.33, 3.09, 4.2].map(at).sort((a, b) => a - b);
  return { p50: p50!, p95: p95!, p99: p99!, p999: p999!, max: max! };
}

/** FNV-1a, 32 bits. */
function hash(text: string): number {
  let value = 0x811c9dc5;
  for (const char of text) value = Math.imul(value ^ char.codePointAt(0)!, 0x01000193);
  return value >>> 0;
}
