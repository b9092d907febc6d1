import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Sample } from "../run/result";
import { plainSample } from "../run/step";
import { nowOf } from "./now";

/** Samples of a tenth of a second at these rates, MB/s, in requests of 100 kB. */
const at = (rates: readonly number[], from = 0): Sample[] =>
  rates.map((mbps, i) => {
    const begin = from + i * 100;
    const bytes = mbps * 1e5;
    return { ...plainSample(begin, begin + 100, bytes), requests: bytes / 1e5 };
  });
const steady = (mbps: number, count: number) => Array.from({ length: count }, () => mbps);

describe("how a step stands", () => {
  it("is not known before the first sample", () => {
    expect(nowOf([], 8)).toBeNull();
  });

  it("tells the last second from the whole, wherever the step began", () => {
    const now = nowOf(at([...steady(400, 30), ...steady(100, 10)], 5000), 8)!;
    expect(now.rate).toBeCloseTo(100, 6);
    expect(now.mean).toBeCloseTo(325, 6);
  });

  it("tells what is sustained after a lasting drop", () => {
    const now = nowOf(at([...steady(400, 100), ...steady(100, 200)]), 8)!;
    expect(now.sustained).toBeCloseTo(100, 0);
    expect(now.mean).toBeCloseTo(200, 6);
  });

  it("has the time of a request from those in flight and those that end", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 256 }),
        fc.integer({ min: 1, max: 5000 }),
        (depth, mbps) => {
          const now = nowOf(at(steady(mbps, 20)), depth)!;
          expect(now.iops).toBeCloseTo(mbps * 10, 3);
          expect((now.requestUs! * now.iops) / 1e6).toBeCloseTo(depth, 6);
        },
      ),
    );
    expect(nowOf(at(steady(10, 20)), null)!.requestUs).toBeNull();
    expect(nowOf(at(steady(0, 20)), 8)!.requestUs).toBeNull();
  });
});
