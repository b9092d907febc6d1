import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { modeOf } from "../../ledger/catalogue";
import { summarise } from "../../stats/repeats";
import { cable, drive, enclosure, hub, port, rig, USB_10G } from "../../testing/rigs";
import { posteriorOf } from "../posterior/posterior";
import { locate, placesOf } from "../locate";
import { expectedOf, slowerModes } from "./slower-modes";

const haul = usualDrill("haul", "read");
const [P, K1, K2, B, B2, D] = [
  port(USB_10G),
  cable(USB_10G, "K1"),
  cable(USB_10G, "K2"),
  enclosure(),
  enclosure([], "box 2"),
  drive(),
];
const seen = (name: string, parts: Parameters<typeof rig>[0], ...rates: number[]) => ({
  rig: rig(parts, name),
  drill: haul,
  doubtful: false,
  measurementIds: [name],
  repeats: summarise(rates),
});
const found = (...all: ReturnType<typeof seen>[]) =>
  locate(all, [P, K1, K2, B, B2, D]).find(({ rig: { name } }) => name === "slow")!;

describe("a link at a slower mode", () => {
  const slow = seen("slow", [P, K1, B, D], 33, 33.6, 32.8);
  const otherCable = seen("other cable", [P, K2, B, D], 950, 955, 948);

  it("gives another box its own rate out of that mode: that clears no cable", () => {
    const otherBox = seen("other box", [P, K1, B2, D], 43, 42.7, 43.3);
    const [first] = placesOf(found(slow, otherCable, otherBox).explanations);
    expect(first!.explanations[0]).toMatchObject({ kind: "dropped-mode", at: { part: "K1" } });
    expect(first!.probability).toBeGreaterThan(0.95);
  });

  it("is not what a pair does that is slow by itself alone", () => {
    const otherBox = seen("other box", [P, K1, B2, D], 960, 955, 958);
    const [first] = placesOf(found(slow, otherCable, otherBox).explanations);
    expect(first!.explanations[0]!.at).toEqual({ between: ["K1", "box"] });
  });

  it("is not what lies between two modes, however it changes", () => {
    const all = [
      seen("slow", [P, K1, B, D], 210, 214, 208),
      otherCable,
      seen("other box", [P, K1, B2, D], 213, 209, 211),
    ];
    const kinds = found(...all).explanations.filter(({ kind }) => kind === "dropped-mode");
    expect(kinds.reduce((sum, { probability }) => sum + probability, 0)).toBeLessThan(0.05);
  });

  it("names the same part in whatever order the runs came", () => {
    const elsewhere = seen("other host", [P, K1, B, D], 33.4, 33.1);
    const all = [
      slow,
      otherCable,
      seen("other box", [P, K1, B2, D], 43, 42.7, 43.3),
      { ...elsewhere, rig: { ...elsewhere.rig, host: "tower" } },
    ];
    const [first] = found(...all).explanations;
    fc.assert(
      fc.property(fc.shuffledSubarray([0, 1, 2, 3], { minLength: 4 }), (order) => {
        const [again] = found(...order.map((i) => all[i]!)).explanations;
        expect(again!.at).toEqual(first!.at);
        expect(again!.probability).toBeCloseTo(first!.probability, 9);
      }),
      { numRuns: 12 },
    );
  });
});

describe("the modes that a part may fall back to", () => {
  it("are those of its families that are slower than what it attains, and none of a stated rate", () => {
    const ids = slowerModes(B, "read", { least: 930, requests: null }).map(({ id }) => id);
    expect(ids).toEqual(expect.arrayContaining(["usb-480m", "usb-5g", "pcie-1.0-x1"]));
    expect(ids).not.toContain("usb-10g");
    expect(ids.some((id) => id.startsWith("sata"))).toBe(false);
    expect(slowerModes(port(["stated-130"]), "read", { least: 130, requests: null })).toEqual([]);
  });

  it("give the ends that were seen the same again, and other ends anything in their band", () => {
    const H = hub(USB_10G);
    const posterior = posteriorOf(
      [{ rig: rig([P, K1, B, D], "slow"), drill: haul, rates: [33, 33.2], measurementIds: [] }],
      "read",
    )!;
    const { grid, trials } = posterior;
    const near = (parts: Parameters<typeof rig>[0]) =>
      expectedOf(rig(parts), modeOf("usb-480m"), trials, {
        direction: "read",
        grid,
        requests: null,
      })
        .filter((_, i) => Math.abs(Math.log(grid.rates[i]! / 33.1)) < 0.06)
        .reduce((sum, value) => sum + value, 0);
    const otherDrive = drive({}, "other");
    expect(near([P, K1, B, otherDrive])).toBeGreaterThan(0.7);
    expect(near([P, K1, B2, D])).toBeLessThan(0.4);
    expect(near([P, K1, H, K2, B, D])).toBeLessThan(0.4);
  });
});
