import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import type { Conditions } from "../../run/result";
import { blankStep } from "../../run/step";
import { observationsOf } from "../../study/measurement";
import { measured, briefResultOf } from "../../testing/measured";
import type { Direction } from "../../units/rate";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../testing/rigs";
import { locate, type Observation } from "../locate";

const slow = {
  ...rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive({})], "slow"),
  fileSystem: "ext4",
  host: "desk",
};
const K2 = cable(USB_10G, "K2");
const seen = (mbps: number, startCelsius: number | null, id: string): Observation => ({
  rig: slow,
  drill: usualDrill("haul", "write"),
  doubtful: false,
  measurementIds: [id],
  repeats: summarise([mbps, mbps * 1.01]),
  results: [mbps, mbps * 1.01].map((rate) =>
    briefResultOf(rate, startCelsius === null ? {} : { startCelsius }),
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
    expect(heat([hot]).nextSwaps.map(({ kind }) => kind)).toContain("temperature");
    const both = [hot, seen(1010, 38, "cool")];
    // One entry for the rig: what is slow is asked about.
    expect(locate(both, [K2])).toHaveLength(1);
    expect(heat(both).observedMBps).toBeLessThan(500);
    expect(chance(both)).toBeGreaterThan(0.9);
    expect(heat(both).nextSwaps.map(({ kind }) => kind)).not.toContain("temperature");
  });

  it("parts the repeats of one day, as a study has them", () => {
    const hot = seen(400, 71, "hot");
    const mixed: Observation = {
      ...hot,
      repeats: summarise([400, 404, 1005, 1010]),
      results: [71, 70, 40, 41].map((startCelsius, i) =>
        briefResultOf([400, 404, 1005, 1010][i]!, { startCelsius }),
      ),
    };
    expect(locate([mixed], [K2])).toHaveLength(1);
    expect(chance([mixed])).toBeGreaterThan(0.9);
  });

  it("is cleared of it where it is as slow when it is cool", () => {
    expect(chance([seen(400, 71, "hot"), seen(403, 38, "cool")])).toBeLessThan(0.02);
  });
});

describe("a drive that was nearly full, or had its write cache off", () => {
  const run = (
    mbps: number,
    conditions: Partial<Conditions>,
    direction: Direction = "write",
    through = slow,
  ) =>
    measured(through, [mbps, mbps * 1.01], {
      direction,
      conditions: { io: "direct", ...conditions } as Conditions,
    });
  const told = (...of: Parameters<typeof run>): Observation => observationsOf([run(...of)])[0]!;
  const full = { freeBytes: 40e9, deviceBytes: 1000e9 };
  const off = { writeCache: "write through" };
  const chanceOf = (state: string, all: Observation[]) =>
    locate(all, [K2], { of: (one) => one === all[0] })[0]!
      .explanations.filter(({ place }) => place === JSON.stringify({ condition: state }))
      .reduce((sum, { probability }) => sum + probability, 0);

  it("may be slowed by that while it is written, and not while it is read", () => {
    expect(chanceOf("fill", [told(400, full)])).toBeGreaterThan(0.05);
    expect(chanceOf("writeCache", [told(400, off)])).toBeGreaterThan(0.1);
    expect(chanceOf("fill", [told(400, full, "read")])).toBe(0);
    expect(chanceOf("fill", [told(400, { freeBytes: 400e9, deviceBytes: 1000e9 })])).toBe(0);
    expect(chanceOf("writeCache", [told(400, { writeCache: "write back" })])).toBe(0);
  });

  it("is suspected the more where it is slow in one direction only, or falls while it is written", () => {
    const alone = told(400, full);
    const oneWay = [alone, told(1005, full, "read")];
    const bothWays = [alone, told(402, full, "read")];
    expect(chanceOf("fill", oneWay)).toBeGreaterThan(1.5 * chanceOf("fill", [alone]));
    expect(chanceOf("fill", bothWays)).toBeLessThan(chanceOf("fill", [alone]) / 2);
    const step = { ...blankStep("flow", {}), burstMBps: 950, sustainedMBps: 300, edgeBytes: 9e9 };
    const falling = { ...alone, results: alone.results!.map((one) => ({ ...one, first: step })) };
    expect(chanceOf("fill", [falling])).toBeGreaterThan(1.5 * chanceOf("fill", [alone]));
  });

  it("is to be emptied, or its cache switched on, which settles it either way", () => {
    const kinds = (all: Observation[]) =>
      locate(all, [K2], { of: (one) => one === all[0] })[0]!.nextSwaps.map(({ kind }) => kind);
    expect(kinds([told(400, { ...full, ...off })])).toEqual(
      expect.arrayContaining(["fill", "writeCache"]),
    );
    const emptied = told(1005, { freeBytes: 900e9, deviceBytes: 1000e9 });
    expect(chanceOf("fill", [told(400, full), emptied])).toBeGreaterThan(0.9);
    const stillSlow = told(401, { freeBytes: 900e9, deviceBytes: 1000e9 });
    expect(chanceOf("fill", [told(400, full), stillSlow])).toBeLessThan(0.02);
    // A drive stays full, whichever cable leads to it.
    const other = {
      ...slow,
      id: "other",
      parts: slow.parts.map((one) => (one.kind === "cable" ? K2 : one)),
    };
    const swapped = told(402, full, "write", other);
    const before = chanceOf("fill", [told(400, full)]);
    expect(chanceOf("fill", [told(400, full), swapped])).toBeGreaterThan(before);
  });

  it("is one observation by itself, since repeats in another state are no repeats", () => {
    expect(observationsOf([run(400, full), run(1000, {})])).toHaveLength(2);
    expect(observationsOf([run(400, {}), run(1000, {})])).toHaveLength(1);
    expect(observationsOf([run(400, full, "read"), run(1000, {}, "read")])).toHaveLength(1);
  });
});
