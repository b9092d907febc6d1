import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { plainSample } from "../run/step";
import { busySeconds, lengthOf } from "./busy-seconds";

/** Ten samples a second, each with so many MB. */
const flow = (megabytes: readonly number[], writing = false) =>
  megabytes.map((mb, i) => plainSample(i * 100, (i + 1) * 100, mb * 1e6, writing));

describe("the busy seconds of a trace", () => {
  it("are those of its one way only, with the busiest wherever it begins", () => {
    const quiet = Array<number>(30).fill(1);
    const burst = quiet.with(14, 51).with(15, 51);
    const samples = [...flow(burst), ...flow(quiet, true)];
    expect(busySeconds(samples, "read")).toMatchObject({ bytes: 130e6, peakMBps: 110 });
    expect(busySeconds(samples, "write").peakMBps).toBeCloseTo(10, 9);
    expect(lengthOf(samples)).toBe(3);
  });

  it("count pauses between samples, and leave one burst in two hundred seconds out of 99 %", () => {
    const samples = [plainSample(0, 1000, 500e6), plainSample(200_000, 201_000, 5e6)];
    const { p99MBps, peakMBps } = busySeconds(samples, "read");
    expect(peakMBps).toBeCloseTo(500, 6);
    expect(p99MBps).toBeLessThan(10);
  });

  it("are no busier than the samples tell, and of nothing nothing", () => {
    expect(busySeconds([plainSample(0, 60_000, 6e9)], "read").peakMBps).toBeCloseTo(100, 6);
    const years = busySeconds(
      [plainSample(0, 1e3, 5e6), plainSample(3e11, 3e11 + 1e3, 5e6)],
      "read",
    );
    expect(years.bytes).toBeCloseTo(10e6, 0);
    expect(busySeconds([], "read")).toEqual({ bytes: 0, peakMBps: 0, p99MBps: 0 });
    expect(lengthOf([])).toBe(0);
  });

  it("hold all bytes, with the mean below 99 %, and 99 % below the peak", () => {
    const sample = fc.tuple(
      fc.double({ min: -1e5, max: 1e5, noNaN: true }),
      fc.double({ min: 0, max: 5000, noNaN: true }),
      fc.double({ min: 0, max: 1e9, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(sample, { minLength: 1, maxLength: 60 }), (all) => {
        const samples = all.map(([from, long, bytes]) => plainSample(from, from + long, bytes));
        const { bytes, peakMBps, p99MBps } = busySeconds(samples, "read");
        expect(bytes).toBeCloseTo(
          all.reduce((sum, [, , one]) => sum + one, 0),
          0,
        );
        const mean = bytes / 1e6 / Math.max(1, lengthOf(samples));
        expect(p99MBps).toBeGreaterThanOrEqual(mean * (1 - 1e-9));
        expect(peakMBps).toBeGreaterThanOrEqual(p99MBps);
      }),
    );
  });
});
