import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  BUCKETS,
  bucketOf,
  merged,
  middleOf,
  packHistogram,
  percentiles,
  unpackHistogram,
} from "./histogram";

describe("histogram", () => {
  it("keeps every time within 1/64, up to half an hour", () => {
    fc.assert(
      fc.property(fc.double({ min: 64, max: 1.8e12, noNaN: true }), (ns) => {
        const bucket = bucketOf(ns);
        expect(bucket).toBeLessThan(BUCKETS);
        expect(Math.abs(middleOf(bucket) - ns)).toBeLessThanOrEqual(ns / 64 + 1024 / 64);
      }),
    );
  });

  it("never puts a longer time into an earlier bucket", () => {
    fc.assert(
      fc.property(fc.nat(2 ** 31 - 2), (ns) => {
        expect(bucketOf(ns + 1)).toBeGreaterThanOrEqual(bucketOf(ns));
      }),
    );
  });

  it("reads percentiles across lanes", () => {
    const lanes = [new Int32Array(BUCKETS), new Int32Array(BUCKETS)];
    for (let us = 1; us <= 1000; us++) lanes[us % 2]![bucketOf(us * 1000)]! += 1;
    const { p50, p95, p99, p999, max } = percentiles(merged(lanes), 1e6);
    for (const [got, want] of [
      [p50, 500],
      [p95, 950],
      [p99, 990],
      [p999, 999],
    ] as const) {
      expect(Math.abs(got - want) / want).toBeLessThan(0.02);
    }
    expect(max).toBe(1000);
  });

  it("comes back from text, and adds up like the requests themselves", () => {
    const times = fc.array(fc.integer({ min: 1, max: 2e12 }), { maxLength: 200 });
    const of = (all: number[]) => {
      const histogram = new Float64Array(BUCKETS);
      for (const ns of all) histogram[bucketOf(ns)]! += 1;
      return histogram;
    };
    fc.assert(
      fc.property(times, times, (a, b) => {
        expect(unpackHistogram(packHistogram(of(a)))).toEqual(of(a));
        expect(merged([of(a), of(b)])).toEqual(of([...a, ...b]));
      }),
      { numRuns: 50 },
    );
    for (const nonsense of ["x", "1", "1.", "ffffff.1", "0.0.0 ."]) {
      expect(unpackHistogram(nonsense).every((count) => !(count > 0))).toBe(true);
    }
  });

  it("says nothing of no requests", () => {
    expect(percentiles(new Int32Array(BUCKETS), 0).p99).toBe(0);
  });
});
