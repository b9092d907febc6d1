import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { cable, drive, enclosure, part, port, rig, USB_10G } from "../testing/rigs";
import { believe } from "./believed";
import type { Change } from "./change";
import { outlookOf, type Prospect } from "./prospect";
import { worldsOf } from "./world";

const haul = usualDrill("haul", "read");
const [P, K1, K2, B, D] = [
  port(),
  cable(USB_10G, "K1"),
  cable(USB_10G, "K2"),
  enclosure(),
  drive(),
];
const slow = rig([P, K1, B, D], "slow");
const belief = believe(
  [{ rig: slow, drill: haul, rates: [600, 604, 598], measurementIds: ["m"] }],
  "read",
)!;
const worlds = worldsOf(belief);
const put = (...parts: Parameters<typeof rig>[0]): Change => ({
  ...{ kind: "exchange", text: "", base: slow, rig: rig(parts, ""), minutes: 1 },
});

/** In which bin most of a spread lies. */
const peak = ({ spreads }: Prospect, bin: number) => {
  const spread = spreads.get(bin)!;
  return spread.indexOf(Math.max(...spread));
};

describe("how a change may come out", () => {
  const outlook = outlookOf(belief, worlds);
  const swapped = put(P, K2, B, D);
  const prospect = outlook(swapped, haul)!;
  const bins = worlds.map((_, w) => prospect.binOf[w]!);
  const isCable = worlds.map(({ limits }) =>
    [...limits.keys()].every((site) => /K1/.test(belief.sites[site]!.key)),
  );

  it("stays at the known limit in worlds where that stays in the rig", () => {
    const stays = bins.filter((_, w) => !isCable[w]);
    expect(stays.length).toBeGreaterThan(0);
    for (const bin of stays) expect(Math.abs(peak(prospect, bin) - bin)).toBeLessThanOrEqual(1);
  });

  it("is what the ledger lets through where what held it back is taken out", () => {
    const free = bins.filter((bin, w) => isCable[w] && bin === prospect.bins);
    expect(free.length).toBeGreaterThan(0);
    const at = peak(prospect, free[0]!) * prospect.width;
    expect(belief.grid.rates[at]).toBeGreaterThan(900);
    expect(belief.grid.rates[at]).toBeLessThan(1141);
  });

  it("spreads what it is sure of and no more, whatever the world", () => {
    for (const spread of prospect.spreads.values()) {
      expect(spread.every((value) => value >= 0)).toBe(true);
      expect(spread.reduce((sum, value) => sum + value, 0)).toBeCloseTo(1, 1);
    }
  });

  it("is worked out once for each change and drill, and is none where the rig does not link", () => {
    expect(outlook(swapped, haul)).toBe(prospect);
    const small = usualDrill("scatter", "read");
    expect(outlook(swapped, small)).not.toBe(prospect);
    const odd = part("cable", "odd", { through: ["sata-6g"] });
    expect(outlook(put(P, odd, B, D), haul)).toBeNull();
  });
});
