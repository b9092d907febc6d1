import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { cable, drive, enclosure, hub, port, rig, USB_10G } from "../../testing/rigs";
import { posteriorOf, type Posterior } from "./posterior";
import { drawLimits, sharesOf, weigh } from "./fault-set";

const haul = usualDrill("haul", "read");
const P = port(USB_10G, "port");
const [K1, K2] = [cable(USB_10G, "K1"), cable(USB_10G, "K2")];
const H = hub(USB_10G, "hub");
const B = enclosure();
const D = drive({});
const seen = (parts: Parameters<typeof rig>[0], ...rates: number[]) => ({
  rig: { ...rig(parts), fileSystem: "ext4" },
  drill: haul,
  rates,
  measurementIds: [],
});
const posterior: Posterior = posteriorOf(
  [
    seen([P, K1, B, D], 600, 610),
    seen([P, K2, B, D], 950, 955),
    seen([P, K1, H, K2, B, D], 420, 425),
  ],
  "read",
)!;
const { bench, sites, trials, grid } = posterior;
const numbered = (key: string) => sites.findIndex((site) => site.key === `part ${key}`);

/** The same sum by going through every combination of limits. */
function bySum(pair: readonly [number, number]): number {
  const { order } = grid;
  const last = order.length - 1;
  let sum = 0;
  for (let i = 0; i <= last; i++) {
    for (let j = 0; j <= last; j++) {
      const [a, b] = [order[i]!, order[j]!];
      let chance = bench.priors[pair[0]]!.density[a]! * bench.priors[pair[1]]!.density[b]!;
      trials.forEach((trial, t) => {
        const [first, second] = pair.map((site) => bench.standsIn[t]!.has(site));
        const least = Math.min(first ? i : last, second ? j : last);
        chance *= trial.likelihood[order[least]!]!;
      });
      sum += chance;
    }
  }
  const odds = pair.reduce((all, site) => all * bench.priors[site]!.odds, 1);
  return Math.log(sum * odds);
}

describe("a set of faults", () => {
  it.each([
    ["K1", "hub"],
    ["hub", "K2"],
    ["K1", "K2"],
  ])("%s and %s weigh as much as all combinations of their limits together", (a, b) => {
    const pair = [numbered(a), numbered(b)].toSorted((x, y) => x - y) as [number, number];
    // No closer: a trial never counts for less than a certain share of where it is likeliest.
    expect(weigh(bench, pair).weight).toBeCloseTo(bySum(pair), 6);
  });

  it("divides each trial among its causes, without a rest", () => {
    for (const set of [[], [numbered("K1")], [numbered("K1"), numbered("hub")]]) {
      for (const { sites: own, asDesigned, odd } of sharesOf(
        bench,
        set.toSorted((a, b) => a - b),
      )) {
        const limited = [...own.values()].flatMap((at) => [...at]).reduce((a, b) => a + b, 0);
        expect(limited + odd + asDesigned.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
      }
    }
  });

  it("draws limits that explain what was seen", () => {
    const pair = [numbered("K1"), numbered("hub")].toSorted((a, b) => a - b);
    for (const limits of drawLimits(bench, pair, [
      [0.2, 0.2],
      [0.8, 0.8],
    ])) {
      const [cable_, hub_] = [numbered("K1"), numbered("hub")].map((site) => limits.get(site)!);
      expect(Math.abs(grid.rates[cable_!]! / 605 - 1)).toBeLessThan(0.15);
      // It lies where a hub does that runs 5 Gb/s only, or one that lets no more through.
      const { modes, rates } = grid;
      if (hub_! < rates.length) expect(Math.abs(rates[hub_!]! / 422 - 1)).toBeLessThan(0.15);
      else expect(modes[hub_! - rates.length]!.id).toBe("usb-5g");
    }
  });
});
