import { correlated, normal, seeded } from "../../simulate/noise";
import type { LaneStretch } from "../../trace/together";

/** A trace made of levels, with what happened in it; nothing of it is shared with what reads it. */
export interface Made {
  samples: LaneStretch[];
  /** Bytes before each drop. */
  edges: number[];
  /** The smallest drop among them, as a share. */
  drop: number;
  what: string;
}

export interface Recipe {
  seed: number;
  /** Rates in MB/s and how long each lasts, seconds. */
  levels: readonly (readonly [mbps: number, seconds: number])[];
  sampleMs: number;
  /** Standard deviation of a sample, as a share, and what is left of it at the next one. */
  noise: number;
  keep: number;
  /** Change over the whole, as a share. */
  drift?: number;
  /** Seconds between two dips, how long each lasts, and what it leaves of the rate. */
  dips?: { every: number; seconds: number; leaves: number };
  /** Share of samples that are far off. */
  outliers?: number;
}

export function madeTrace(recipe: Recipe): Made {
  const { seed, levels, sampleMs, noise, keep, drift = 0, dips, outliers = 0 } = recipe;
  const random = seeded(seed);
  const restless = correlated(random, keep);
  const whole = levels.reduce((sum, [, seconds]) => sum + seconds * 1e3, 0);
  const offset = dips ? random() * dips.every : 0;
  const samples: LaneStretch[] = [];
  const edges: number[] = [];
  let [ms, sum, ends] = [0, 0, 0];
  levels.forEach(([mbps, seconds], i) => {
    ends += seconds * 1e3;
    while (ms < ends - sampleMs / 2) {
      let rate = mbps * (1 + noise * restless()) * (1 + drift * (ms / whole));
      if (dips && (ms / 1e3 + offset) % dips.every < dips.seconds) rate *= dips.leaves;
      if (random() < outliers) rate *= random() < 0.5 ? 0.1 : 1 + Math.abs(normal(random));
      const bytes = Math.max(0, rate * 1e3 * sampleMs);
      samples.push({ from: ms, ms: ms + sampleMs, bytes });
      ms += sampleMs;
      sum += bytes;
    }
    const next = levels[i + 1];
    if (next && next[0] < mbps) edges.push(sum);
  });
  const drops = levels.slice(1).flatMap(([mbps], i) => {
    const share = 1 - mbps / levels[i]![0];
    return share > 0 ? [share] : [];
  });
  return { samples, edges, drop: Math.min(1, ...drops), what: JSON.stringify(recipe) };
}

/** Traces of all kinds, half of them flat: drops of a quarter and more, everywhere but at the very ends. */
export function assortment(count: number, seed: number): Made[] {
  const random = seeded(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  const oneOf = <T>(...choices: T[]) => choices[Math.floor(random() * choices.length)]!;
  return Array.from({ length: count }, (_, i) => {
    const flat = i % 2 === 1;
    const sampleMs = oneOf(100, 100, 500, 1000);
    const whole = (sampleMs / 1e3) * between(300, 4000);
    const mbps = between(40, 3000);
    const drop = between(0.25, 0.9);
    const at = oneOf(between(0.05, 0.2), between(0.2, 0.8), between(0.85, 0.95));
    const two = !flat && random() < 0.25;
    const second = at + (1 - at) * between(0.4, 0.7);
    const levels = flat
      ? ([[mbps, whole]] as const)
      : two
        ? ([
            [mbps, whole * at],
            [mbps * (1 - drop), whole * (second - at)],
            [mbps * (1 - drop) * (1 - between(0.25, 0.6)), whole * (1 - second)],
          ] as const)
        : ([
            [mbps, whole * at],
            [mbps * (1 - drop), whole * (1 - at)],
          ] as const);
    const period = whole * between(0.04, 0.1);
    return madeTrace({
      seed: seed * 7919 + i,
      levels,
      sampleMs,
      noise: between(0.01, 0.1),
      keep: oneOf(0, 0.3, 0.6, 0.8),
      drift: oneOf(0, 0, between(-0.15, 0.15)),
      ...(random() < 0.35
        ? {
            dips: { every: period, seconds: period * between(0.03, 0.15), leaves: between(0, 0.7) },
          }
        : {}),
      outliers: oneOf(0, 0, 0.005, 0.02),
    });
  });
}
