import { describe, expect, it } from "vitest";
import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { observationsOf } from "../../study/measurement";
import { around, measured } from "../../testing/measured";
import { cable, drive, enclosure, hub, port, rig, USB_10G, USB_5G } from "../../testing/rigs";
import { locate, placesOf, type Explanation } from "../locate";
import { tellExplanation } from "../findings/sentences";

/** Small requests: what takes its time for each, of parts of which the ledger knows little. */

const [P, K1, K2, B, B2, disk, flash] = [
  port(USB_10G),
  cable(USB_10G, "K1"),
  cable(USB_10G, "K2"),
  enclosure(),
  enclosure([], "box 2"),
  drive({}, "disk"),
  drive({}, "flash"),
];
const through = (box: Part, last: Part, more: Partial<Rig> = {}) =>
  rig([P, K1, box, last], `${last.name} in ${box.name}`, more);
const found = (depth: number, ...runs: [Rig, number][]) => {
  const drill = { name: "scatter", depth };
  const seen = runs.map(([one, mbps]) => measured(one, around(mbps), { drill }));
  const located = locate(observationsOf(seen), [P, K1, K2, B, B2, disk, flash]);
  return (name: string) => {
    const one = located.find(({ rig }) => rig.name === name)!;
    const [first] = placesOf(one.explanations);
    const likeliest = first!.explanations[0] as Explanation;
    return {
      ...one,
      first: likeliest,
      sure: first!.probability,
      told: tellExplanation(likeliest, one),
    };
  };
};

describe("a drive that takes its time", () => {
  it("is suspected first of a rig of which nothing else is known, and is not settled", () => {
    for (const [depth, mbps] of [
      [1, 0.48],
      [24, 0.95],
    ] as const) {
      const alone = found(depth, [through(B, disk), mbps])("disk in box");
      expect(alone.first).toMatchObject({ kind: "own-limit", at: { part: "disk" } });
      expect(alone.told).toBe("the disk drive itself takes so long for each request");
      expect(alone.settled).toBe(false);
      expect(alone.nextSwaps.length).toBeGreaterThan(0);
    }
  });

  it("is it, where another drive in its place is quick", () => {
    const both = found(24, [through(B, disk), 0.95], [through(B, flash), 210]);
    expect(both("disk in box")).toMatchObject({ settled: true, first: { at: { part: "disk" } } });
    // What is quick behind the same box and cable accuses nobody for sure.
    expect(both("flash in box").first.kind).not.toBe("dropped-mode");
  });

  it("stays it in whatever box, and clears the boxes", () => {
    const all = found(
      24,
      ...([
        [through(B, disk), 0.95],
        [through(B2, disk), 0.96],
        [through(B, flash), 210],
      ] as [Rig, number][]),
    );
    for (const name of ["disk in box", "disk in box 2"])
      expect(all(name)).toMatchObject({ settled: true, first: { at: { part: "disk" } } });
  });

  it("is not blamed where it says what it takes, and that is what was seen", () => {
    const told: Part = { ...disk, requestUs: { read: 8500 } };
    const one = found(1, [through(B, told), 0.47])("disk in box");
    expect(one).toMatchObject({ settled: true, first: { kind: "as-designed" } });
  });
});

describe("another part that takes its time", () => {
  it("is it, where the drive is quick without it", () => {
    const all = found(
      1,
      ...([
        [through(B, flash), 5.5],
        [through(B2, flash), 24],
        [through(B, disk), 0.47],
        [rig([P, K2, B, flash], "other cable"), 5.6],
      ] as [Rig, number][]),
    );
    expect(all("flash in box").first).toMatchObject({ at: { part: "box" } });
    expect(all("flash in box").sure).toBeGreaterThan(0.8);
  });

  it("may be a hub that a rig can do without", () => {
    const H = hub(USB_10G);
    const all = found(
      1,
      [rig([P, K1, H, K2, B, flash], "through the hub"), 2.6],
      [rig([P, K2, B, flash], "without"), 24],
      [rig([P, K1, B, flash], "without, other cable"), 24.2],
    );
    expect(all("through the hub").first).toMatchObject({ at: { part: "hub" } });
  });

  it("is the driver’s mode, where that lets one through at a time", () => {
    const one = found(24, [through(B, flash, { transport: "usb-unqueued" }), 20])("flash in box");
    expect(one).toMatchObject({
      settled: true,
      first: { kind: "as-designed", at: { condition: "transport" } },
      told: "nothing is wrong: the driver mode allows no more",
    });
    // Of one at a time nobody asks for more.
    const single = found(1, [through(B, flash, { transport: "usb-unqueued" }), 20])("flash in box");
    expect(single.first).toMatchObject({ kind: "as-designed", at: { ledger: "flash" } });
  });

  it("is it, where another in its place reaches what is foreseen, of ladders by their last step too", () => {
    const seen = [through(B, flash), through(B2, flash)].map((one, i) =>
      measured(one, around([480, 940][i]!), { drill: { name: "stride-ladder" } }),
    );
    const located = locate(observationsOf(seen), [P, K1, B, B2, flash]);
    const of = (name: string) => located.find(({ rig }) => rig.name === name)!;
    expect(of("flash in box 2").explanations[0]).toMatchObject({ kind: "as-designed" });
    const slow = of("flash in box").explanations;
    expect(slow[0]).toMatchObject({ at: { part: "box" } });
    const designed = slow.filter(({ kind }) => kind === "as-designed");
    expect(designed.reduce((sum, { probability }) => sum + probability, 0)).toBeLessThan(0.3);
  });

  it("is nobody, where small requests nearly fill the link", () => {
    const narrow = rig([port(USB_5G), K1, B, flash], "narrow");
    const one = found(24, [narrow, 425])("narrow");
    expect(one.first).toMatchObject({ kind: "as-designed", at: { ledger: "box" } });
    expect(one.told).toMatch(/^nothing is wrong: such requests get no more through the link/);
  });
});
