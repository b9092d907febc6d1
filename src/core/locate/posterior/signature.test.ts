import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { briefResultOf } from "../../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../testing/rigs";
import type { Direction } from "../../units/rate";
import { locate, type Observation } from "../locate";
import { factorOf } from "../observations/signs/sign";
import { signaturesIn } from "./signature";
import { evidenceOn } from "../findings/for-and-against";

const K2 = cable(USB_10G, "K2");
const slow = {
  ...rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive({})], "slow"),
  fileSystem: "ext4",
  host: "desk",
};
const hauled = (direction: Direction, mbps: number, through = slow): Observation => ({
  rig: through,
  drill: usualDrill("haul", direction),
  doubtful: false,
  measurementIds: [`${through.id} ${direction}`],
  repeats: summarise([mbps, mbps * 1.01]),
});
const read = hauled("read", 400);
const laddered = (rises: boolean): Observation => ({
  rig: slow,
  drill: usualDrill("depth-ladder", "read"),
  doubtful: false,
  measurementIds: ["ladder"],
  repeats: summarise([40]),
  results: [
    briefResultOf(40, {
      fit: {
        by: "depth",
        singleIops: 9000,
        plateauIops: rises ? 90_000 : 9100,
        kneeDepth: 1,
        rises,
      },
    }),
  ],
});
const chance = (all: Observation[], at: object) =>
  locate(all, [K2], { of: (one) => one === read, next: false })[0]!
    .explanations.filter(({ place }) => place === JSON.stringify(at))
    .reduce((sum, { probability }) => sum + probability, 0);

describe("what is seen beside the rate", () => {
  it("clears what knows no direction where only one is slow, and suspects the drive", () => {
    const both = [read, hauled("write", 410)];
    const oneWay = [read, hauled("write", 1000)];
    expect(chance(oneWay, { part: "K1" })).toBeLessThan(chance([read], { part: "K1" }) / 3);
    expect(chance(both, { part: "K1" })).toBeGreaterThan(chance([read], { part: "K1" }));
    expect(chance(oneWay, { part: "drive" })).toBeGreaterThan(chance([read], { part: "drive" }));
  });

  it("says nothing of another rig, of a rate in between, or of one that memory may have answered", () => {
    const other = { ...slow, id: "other", parts: slow.parts.map((p) => (p.id === "K1" ? K2 : p)) };
    expect(signaturesIn([read], [read, hauled("write", 1000, other)], "read")).toEqual([]);
    expect(signaturesIn([read], [read, hauled("write", 810)], "read")).toEqual([]);
    const doubtful = { ...hauled("write", 1000), doubtful: true };
    expect(signaturesIn([read], [read, doubtful], "read")).toEqual([]);
  });

  it("suspects the driver where more requests in flight gain nothing, and clears it where they do", () => {
    const transport = { condition: "transport" };
    expect(chance([read, laddered(false)], transport)).toBeGreaterThan(
      3 * chance([read], transport),
    );
    expect(chance([read, laddered(true)], transport)).toBeLessThan(chance([read], transport) / 3);
  });

  it("is told with the runs it rests on", () => {
    const all = [read, hauled("write", 1000)];
    const found = locate(all, [K2], { of: (one) => one === read, next: false })[0]!;
    const cable_ = found.explanations.find(({ at }) => JSON.stringify(at) === '{"part":"K1"}');
    const { against } = evidenceOn(cable_ ?? found.explanations[0]!, found);
    if (cable_) expect(against.map(({ text }) => text).join()).toMatch(/as it should be writing/);
    else expect(found.explanations.some(({ at }) => at && "part" in at)).toBe(true);
  });

  it("counts the strongest of several alike signs once", () => {
    const sign = (factor: number) => ({
      text: "",
      measurementIds: [],
      factors: [{ site: "s", kind: "fault" as const, factor }],
    });
    expect(factorOf([sign(3), sign(2), sign(0.5)], "s", "fault")).toBe(1.5);
    expect(factorOf([sign(3)], "other", "fault")).toBe(1);
  });
});
