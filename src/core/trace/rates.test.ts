import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { headlineRate, meanRate, ratesOf, spreadOfTrace } from "./rates";

describe("rates of a trace", () => {
  it("are bytes over the time since the sample before", () => {
    const rates = ratesOf([
      { ms: 100, bytes: 4e6 },
      { ms: 300, bytes: 4e6 },
    ]);
    expect(rates).toEqual([
      { ms: 100, mbps: 40 },
      { ms: 300, mbps: 20 },
    ]);
  });

  it("lose no byte to samples at the same instant", () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ step: fc.integer({ min: 0, max: 300 }), bytes: fc.nat(1e8) }), {
          minLength: 1,
        }),
        (steps) => {
          let ms = 0;
          const samples = steps.map(({ step, bytes }) => ({ ms: (ms += step), bytes }));
          samples.push({ ms: ms + 100, bytes: 0 });
          let last = 0;
          const moved = ratesOf(samples).reduce((sum, point) => {
            const part = point.mbps * 1e6 * ((point.ms - last) / 1e3);
            last = point.ms;
            return sum + part;
          }, 0);
          const bytes = samples.reduce((sum, s) => sum + s.bytes, 0);
          expect(Math.abs(moved - bytes)).toBeLessThan(1 + bytes * 1e-9);
          expect(meanRate(samples)).toBeCloseTo(bytes / 1e6 / ((ms + 100) / 1e3), 6);
        },
      ),
    );
  });

  it("say nothing of nothing", () => {
    expect(spreadOfTrace([])).toBeNull();
    expect(meanRate([])).toBe(0);
  });
});

describe("the headline of a run", () => {
  const every100ms = (bytes: number[]) => bytes.map((b, i) => ({ ms: (i + 1) * 100, bytes: b }));

  it("is the mean of a steady flow", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 200 }),
        fc.integer({ min: 1, max: 1e9 }),
        (n, bytes) => {
          const samples = every100ms(Array(n).fill(bytes));
          expect(headlineRate(samples) / meanRate(samples)).toBeCloseTo(1, 9);
        },
      ),
    );
  });

  it("hardly cares where in a train of bursts the counting begins and ends", () => {
    const burst = (i: number) => (i % 3 === 2 ? 0 : 6e6); // 40 MB/s on average
    for (let start = 0; start < 3; start++) {
      for (const n of [40, 41, 50]) {
        const samples = every100ms(Array.from({ length: n }, (_, i) => burst(i + start)));
        expect(Math.abs(headlineRate(samples) / 40 - 1)).toBeLessThan(0.01);
      }
    }
  });

  it("halves a flow that stops half way", () => {
    const samples = every100ms([...Array<number>(50).fill(4e6), ...Array<number>(50).fill(0)]);
    expect(headlineRate(samples)).toBeCloseTo(20, 9);
  });

  it("is nothing without samples", () => expect(headlineRate([])).toBe(0));
});
