import { describe, expect, it } from "vitest";
import type { DemandCheck, Fit } from "../demand/check";
import { tellBuying } from "./buying";

const rig = (
  letter: string,
  fits: Fit[],
  price: number | null,
  more: { unpriced?: number; currency?: string } = {},
) => ({
  letter,
  cost: price === null ? null : { amount: price, currency: "EUR", unpriced: 0, ...more },
  demands: fits.map((fit, i) => ({
    name: `demand ${i}`,
    checks: [{ fit, headroom: 0.1, direction: "write", need: 1, have: 1 } as DemandCheck],
  })),
});

describe("which rig to buy", () => {
  it("is the cheapest of those that meet every demand", () => {
    const rigs = [
      rig("A", ["met", "met"], 120),
      rig("B", ["met", "met"], 84),
      rig("C", ["met", "missed"], 20),
    ];
    expect(tellBuying(rigs)).toBe("Cheapest rig that meets every demand: B, 84 EUR.");
  });

  it("is none where none meets them, and open where a long run would tell", () => {
    expect(tellBuying([rig("A", ["missed"], 20)])).toBe("No rig here meets the demand.");
    expect(tellBuying([rig("A", ["open"], 20)])).toMatch(/^No rig is known .* rig A: a long run/);
  });

  it("is not told from prices that are incomplete, or in several currencies", () => {
    expect(tellBuying([rig("A", ["met"], null)])).toMatch(/^Rig A meets the demand\. Prices/);
    expect(tellBuying([rig("A", ["met"], 20, { unpriced: 1 })])).toMatch(/Prices of all parts/);
    const both = [rig("A", ["met"], 20), rig("B", ["met"], 30, { currency: "USD" })];
    expect(tellBuying(both)).toMatch(/^Rigs A and B meet .* in one currency/);
    const some = [rig("A", ["met"], 40), rig("B", ["met"], null)];
    expect(tellBuying(some)).toMatch(/: A, 40 EUR, of those with all prices \(rig B: not all\)/);
  });

  it("is not asked where nothing is demanded", () => {
    expect(tellBuying([rig("A", [], 20)])).toBeNull();
  });
});
