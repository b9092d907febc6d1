import type { Reading, Sample } from "../../run/result";
import { plainSample } from "../../run/step";
import { correlated, normal, seeded } from "../../simulate/noise";

/** A trace with its temperature, of which it is known what made it fall. */
export interface MadeHeat {
  samples: Sample[];
  readings: Reading[];
  truth: "heat" | "cache" | "none";
  what: string;
}

/** Of the drives that do not fall for their heat, so many are warm all the same. */
const WARM = 0.5;

/**
 * Traces that fall for their heat or for their cache, in equal parts, and some that do not fall. The
 * heat is a mass behind a resistance; a drive that gets too hot slows down at once and comes back when
 * it has cooled by a few degrees, or goes on at the rate at which it just bears its heat.
 */
export function heatAssortment(count: number, seed: number): MadeHeat[] {
  const random = seeded(seed);
  const between = (low: number, high: number) => low + (high - low) * random();
  return Array.from({ length: count }, (_, i) => {
    const truth = (["heat", "cache", "none"] as const)[i % 5 === 4 ? 2 : i % 2]!;
    const writing = truth === "cache" || random() < 0.6;
    const restless = correlated(random, between(0, 0.8));
    const noise = between(0.01, 0.06);
    const mbps = between(200, 3000);
    const seconds = between(400, 1500);
    const limit = between(68, 85);
    const ambient = between(20, 30);
    const tau = between(60, 250);
    // A warm one bears at its full rate what others are slowed down by, from the beginning or after a while.
    const warm = truth !== "heat" && random() < WARM;
    const soaked = warm && random() < 0.7;
    // Hot enough to reach its limit in the first two thirds, or never.
    const rise =
      truth === "heat"
        ? (limit - ambient) * between(1.25, 2)
        : warm
          ? between(66, 80) - ambient
          : between(15, 28);
    // Some stand in warm air, and cool down little when they do less.
    const own = warm ? between(0.1, 1) : 1;
    const steps = random() < 0.5;
    const least = between(0.3, 0.65);
    const cache = between(0.1, 0.8) * mbps * seconds;
    const folded = between(0.1, 0.7);
    const samples: Sample[] = [];
    const readings: Reading[] = [];
    let [celsius, slow, moved] = [ambient + (soaked ? rise : between(0, 8)), false, 0];
    for (let second = 0; second < seconds; second++) {
      let share = 1;
      if (truth === "heat" && steps) {
        if (celsius >= limit) slow = true;
        if (celsius < limit - 5) slow = false;
        share = slow ? least : 1;
      } else if (truth === "heat" && celsius > limit - 2) {
        share = Math.max(least, 1 - ((1 - least) * (celsius - limit + 2)) / 3);
      }
      if (truth === "cache" && moved > cache) share = folded;
      const rate = mbps * share * Math.max(0.05, 1 + noise * restless());
      moved += rate;
      const towards = ambient + rise * (1 - own + own * Math.min(1, rate / mbps));
      celsius = towards + (celsius - towards) * Math.exp(-1 / tau);
      samples.push(plainSample(second * 1e3, (second + 1) * 1e3, Math.round(rate * 1e6), writing));
      const shown = celsius + 0.4 * normal(random);
      readings.push({
        ms: (second + 1) * 1e3,
        engine: null,
        machine: null,
        celsius: { drive: Math.round(shown) },
      });
    }
    const what = JSON.stringify({
      truth,
      warm,
      soaked,
      own,
      writing,
      mbps,
      seconds,
      limit,
      rise,
      tau,
      steps,
      least,
    });
    return { samples, readings, truth, what };
  });
}
