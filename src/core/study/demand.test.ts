import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bottleneckOf } from "../chain/bottleneck";
import { blankStep } from "../run/step";
import { observationsOf, type BriefMeasurement } from "./measurement";
import { around, measured } from "../testing/measured";
import { drive, port, rig, statedRig, part } from "../testing/rigs";
import { checkDemand } from "../demand/check";
import { Demand, needOf, streamRate } from "./demand";
import { NOTHING_SHOWN, shownBy } from "../demand/shown";

const camera = {
  what: "camera",
  direction: "write",
  width: 3840,
  height: 2160,
  perSecond: 30,
  bits: 24,
  streams: 1,
  compression: 1,
} as const;
const copy = (gigabytes: number, minutes: number) =>
  ({ what: "card", direction: "read", gigabytes, minutes }) as const;
const demand = (parts: Partial<Demand>): Demand => ({
  name: "d",
  streams: [],
  copies: [],
  ...parts,
});
const asks = (mbps: number) => demand({ copies: [copy(mbps * 0.06, 1)] });

describe("what a demand asks", () => {
  it("is pixels times pictures times bits, together for streams at once", () => {
    expect(streamRate(camera)).toBeCloseTo(746.496, 9);
    const two = demand({ streams: [camera, { ...camera, streams: 2, compression: 4 }] });
    expect(needOf(two, "write")).toBeCloseTo(746.496 * 1.5, 9);
    expect(needOf(two, "read")).toBe(0);
  });

  it("is the most pressing copy, since they come one after another", () => {
    expect(needOf(demand({ copies: [copy(120, 10), copy(60, 10)] }), "read")).toBeCloseTo(200, 9);
  });

  it.each([
    ["nothing to do", { streams: [], copies: [] }],
    ["no time", { copies: [copy(10, 0)] }],
    ["a negative amount", { copies: [copy(-1, 1)] }],
    ["no pixels", { streams: [{ ...camera, width: 0 }] }],
    ["words for figures", { streams: [{ ...camera, bits: "many" }] }],
    ["compression that makes more", { streams: [{ ...camera, compression: 0.5 }] }],
  ])("is refused with %s", (_, parts) => {
    expect(Demand.safeParse({ name: "d", ...parts }).success).toBe(false);
  });
});

describe("whether a rig meets it", () => {
  const hundred = statedRig(100); // attains 90 to 100
  const nothing = () => NOTHING_SHOWN;
  const read = (rates: number[]) =>
    shownBy(observationsOf([measured(hundred, rates)]), hundred, "read");
  const fit = (need: number, rates: number[] | null = null) =>
    checkDemand(hundred, asks(need), rates ? () => read(rates) : nothing)[0]!.fit;

  it("is predicted from what the bottleneck attains", () => {
    expect(fit(80)).toBe("should meet");
    expect(fit(95)).toBe("can't tell");
    expect(fit(101)).toBe("cannot meet");
  });

  it("is known once it was measured", () => {
    expect(fit(80, [96, 97, 98])).toBe("met");
    expect(fit(98, [70, 71, 72])).toBe("missed");
    expect(fit(97, [96, 97, 98])).toBe("can't tell");
  });

  it("cannot be said of a drive whose own rate is not known", () => {
    const stick = rig([port(), part("drive", "stick", { up: ["usb-5g"] })]);
    expect(checkDemand(stick, asks(10), nothing)[0]!.fit).toBe("can't tell");
    expect(checkDemand(rig([port(), drive()]), asks(10), nothing)[0]!.fit).toBe("cannot meet");
  });

  it("is not met by a short burst: what lasts is told by a long run", () => {
    const short = measured(hundred, around(95), {
      direction: "write",
      result: { bytes: 1e9, deviceBytes: 1e9 },
    });
    const long = (edgeBytes: number | null, sustained: number) =>
      measured(hundred, [sustained], {
        direction: "write",
        drill: { name: "long-fill" },
        result: {
          steps: [{ ...blankStep("flow", {}), burstMBps: 95, sustainedMBps: sustained, edgeBytes }],
        },
      });
    const check = (asked: Demand, ...runs: BriefMeasurement[]) =>
      checkDemand(hundred, asked, (way) => shownBy(observationsOf(runs), hundred, way))[0]!;
    const stream = demand({ streams: [{ ...camera, compression: 746.496 / 60 }] });
    // 60 MB/s all the time.
    expect(check(stream, short).fit).toBe("open");
    expect(check(stream, short, long(40e9, 30)).fit).toBe("missed");
    expect(check(stream, short, long(null, 90)).fit).toBe("met");
    // 150 GB in 40 minutes are 62.5 MB/s; 40 GB of them at 95 and 110 GB at 50 take 43.7 minutes.
    const taken = (minutes: number, gigabytes = 150) =>
      demand({ copies: [{ ...copy(gigabytes, minutes), direction: "write" }] });
    expect(check(taken(40), short).fit).toBe("open");
    expect(check(taken(43), long(40e9, 50)).fit).toBe("missed");
    expect(check(taken(44.5), long(40e9, 50)).fit).toBe("met");
    expect(check(taken(44.5), long(40e9, 50)).have).toBeCloseTo(
      150e3 / (40e3 / 95 + 110e3 / 50),
      6,
    );
    // As much as the short run itself moved is known by it; too slow in a burst is too slow.
    expect(check(taken(0.2, 1), short).fit).toBe("met");
    expect(check(taken(20), short).fit).toBe("missed");
    // A stream that runs beside takes its share of the cache and of what is sustained.
    const both = demand({ ...taken(60), streams: [{ ...camera, compression: 746.496 / 20 }] });
    expect(check(both, long(40e9, 50)).fit).toBe("missed");
    expect(check(demand({ ...taken(85), streams: both.streams }), long(40e9, 50)).fit).toBe("met");
  });

  it("has room to spare where it is met, and lacks some where it is not", () => {
    fc.assert(
      fc.property(fc.double({ min: 1, max: 200, noNaN: true }), (need) => {
        const [check] = checkDemand(hundred, asks(need), nothing);
        expect(check!.need).toBeCloseTo(need, 9);
        if (check!.fit === "should meet") expect(check!.headroom).toBeGreaterThanOrEqual(0);
        if (check!.fit === "cannot meet") expect(check!.headroom).toBeLessThan(0);
        expect(bottleneckOf(hundred, "read")!.ceiling).toBeGreaterThanOrEqual(check!.have);
      }),
    );
  });
});
