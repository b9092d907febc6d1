import { describe, expect, it } from "vitest";
import { Demand } from "../study/demand";
import { DEMAND_PRESETS, presetRate } from "./presets";

const rateOf = (name: RegExp) =>
  presetRate(DEMAND_PRESETS.find(({ demand }) => name.test(demand.name))!);

describe("everyday jobs as demands", () => {
  it("make sense, and say where their figures come from", () => {
    for (const { demand, source } of DEMAND_PRESETS) {
      expect(Demand.safeParse(demand).success, demand.name).toBe(true);
      expect(source).not.toBe("");
    }
    const names = DEMAND_PRESETS.map(({ demand }) => demand.name);
    expect(new Set(names).size).toBe(names.length);
  });

  it.each([
    [/64 tracks/, 64 * 96_000 * 3e-6],
    [/one camera/, 12.5],
    [/four streams, 4K at 30/, 50],
    [/four streams, 4K at 60/, 750],
    [/HD at 60, not/, 1920 * 1080 * 60 * 2.5e-6],
    [/4K at 60, not/, 1244.16],
    [/150 GB while I wait/, 500],
    [/1 TB in an hour/, 277.8],
  ])("%s asks for %d MB/s", (name, mbps) => {
    expect(rateOf(name)).toBeCloseTo(mbps, 1);
  });
});
