import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { cable, drive, enclosure, part, port, rig, USB_10G } from "../../testing/rigs";
import { posteriorOf } from "../posterior/posterior";
import type { Change } from "./change";
import { outlookOf, type Predictive } from "./predictive";
import { drawsOf } from "../posterior/draw";

const haul = usualDrill("haul", "read");
const [P, K1, K2, B, D] = [
  port(),
  cable(USB_10G, "K1"),
  cable(USB_10G, "K2"),
  enclosure(),
  drive(),
];
const slow = rig([P, K1, B, D], "slow");
const posterior = posteriorOf(
  [{ rig: slow, drill: haul, rates: [600, 604, 598], measurementIds: ["m"] }],
  "read",
)!;
const draws = drawsOf(posterior);
const put = (...parts: Parameters<typeof rig>[0]): Change => ({
  kind: "exchange",
  text: "",
  base: slow,
  rig: rig(parts, ""),
  minutes: 1,
});

/** In which bin most of a spread lies. */
const peak = ({ spreads }: Predictive, bin: number) => {
  const spread = spreads.get(bin)!;
  return spread.indexOf(Math.max(...spread));
};

describe("how a change may come out", () => {
  const outlook = outlookOf(posterior, draws);
  const swapped = put(P, K2, B, D);
  const predictive = outlook(swapped, haul)!;
  const bins = draws.map((_, w) => predictive.binOf[w]!);
  const isCable = draws.map(({ limits }) =>
    [...limits.keys()].every((site) => /K1/.test(posterior.sites[site]!.key)),
  );

  it("stays at the known limit in draws where that stays in the rig", () => {
    const stays = bins.filter((_, w) => !isCable[w]);
    expect(stays.length).toBeGreaterThan(0);
    for (const bin of stays) expect(Math.abs(peak(predictive, bin) - bin)).toBeLessThanOrEqual(1);
  });

  it("is what the ledger lets through where what held it back is taken out", () => {
    const free = bins.filter((bin, w) => isCable[w] && bin === predictive.bins);
    expect(free.length).toBeGreaterThan(0);
    const at = peak(predictive, free[0]!) * predictive.width;
    expect(posterior.grid.rates[at]).toBeGreaterThan(900);
    expect(posterior.grid.rates[at]).toBeLessThan(1141);
  });

  it("spreads what it is sure of and no more, whatever the world", () => {
    for (const spread of predictive.spreads.values()) {
      expect(spread.every((value) => value >= 0)).toBe(true);
      expect(spread.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 1);
    }
  });

  it("is worked out once for each change and drill, and is none where the rig does not link", () => {
    expect(outlook(swapped, haul)).toBe(predictive);
    const small = usualDrill("scatter", "read");
    expect(outlook(swapped, small)).not.toBe(predictive);
    const odd = part("cable", "odd", { through: ["sata-6g"] });
    expect(outlook(put(P, odd, B, D), haul)).toBeNull();
  });
});
