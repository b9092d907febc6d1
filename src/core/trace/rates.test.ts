import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { meanRate, ratesOf, spreadOfTrace } from "./rates";

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
