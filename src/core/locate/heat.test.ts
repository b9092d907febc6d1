import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { summarise } from "../stats/repeats";
import { resultOf } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../testing/rigs";
import { locate, type Observation } from "./locate";

const slow = {
  ...rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive({})], "slow"),
  ...{ fileSystem: "ext4", host: "desk" },
};
const K2 = cable(USB_10G, "K2");
const seen = (mbps: number, startCelsius: number | null, id: string): Observation => ({
  ...{ rig: slow, drill: usualDrill("haul", "write"), doubtful: false, measurementIds: [id] },
  repeats: summarise([mbps, mbps * 1.01]),
  results: [mbps, mbps * 1.01].map((rate) =>
    resultOf(rate, startCelsius === null ? {} : { startCelsius }),
  ),
});
const heat = (all: Observation[]) => locate(all, [K2], { of: (one) => one === all[0] })[0]!;
const chance = (all: Observation[]) =>
  heat(all)
    .explanations.filter(({ at }) => at && "condition" in at && at.condition === "temperature")
    .reduce((sum, { probability }) => sum + probability, 0);

describe("a drive that was hot as its runs began", () => {
  it("may be held back by its heat; one that was cool, or told nothing, may not", () => {
    expect(chance([seen(400, 71, "hot")])).toBeGreaterThan(0.1);
    expect(chance([seen(400, 41, "cool")])).toBe(0);
    expect(chance([seen(400, null, "untold")])).toBe(0);
  });

  it("is to be measured again when it has cooled, which settles it", () => {
    const hot = seen(400, 71, "hot");
    expect(heat([hot]).nextSwaps.map(({ kind }) => kind)).toContain("cool");
    const both = [hot, seen(1010, 38, "cool")];
    // One entry for the rig: what is slow is asked about.
    expect(locate(both, [K2])).toHaveLength(1);
    expect(heat(both).observedMBps).toBeLessThan(500);
    expect(chance(both)).toBeGreaterThan(0.9);
    expect(heat(both).nextSwaps.map(({ kind }) => kind)).not.toContain("cool");
  });

  it("parts the repeats of one day, as a study has them", () => {
    const hot = seen(400, 71, "hot");
    const mixed: Observation = {
      ...hot,
      repeats: summarise([400, 404, 1005, 1010]),
      results: [71, 70, 40, 41].map((startCelsius, i) =>
        resultOf([400, 404, 1005, 1010][i]!, { startCelsius }),
      ),
    };
    expect(locate([mixed], [K2])).toHaveLength(1);
    expect(chance([mixed])).toBeGreaterThan(0.9);
  });

  it("is cleared of it where it is as slow when it is cool", () => {
    expect(chance([seen(400, 71, "hot"), seen(403, 38, "cool")])).toBeLessThan(0.02);
  });
});
