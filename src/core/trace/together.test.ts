import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readTrace } from "../reading/read";
import { spreadOfTrace } from "./rates";
import { together, type LaneStretch } from "./together";

/** Ten samples a second of a steady rate. @param offset when its clock began, ms */
const steady = (target: number, offset: number, mbps: number, seconds = 8): LaneStretch[] =>
  Array.from({ length: seconds * 10 }, (_, i) => ({
    target,
    from: offset + i * 100,
    ms: offset + (i + 1) * 100,
    bytes: mbps * 1e5,
  }));
const inOrder = (...lanes: LaneStretch[][]) => lanes.flat().sort((a, b) => a.ms - b.ms);
const bytesIn = (samples: readonly LaneStretch[]) =>
  samples.reduce((sum, { bytes }) => sum + bytes, 0);

describe("samples of several targets together", () => {
  it("loses no byte, and overlaps nowhere, whenever each clock began", () => {
    const lane = fc.record({
      offset: fc.double({ min: 0, max: 300, noNaN: true }),
      mbps: fc.integer({ min: 0, max: 5000 }),
      seconds: fc.integer({ min: 1, max: 5 }),
    });
    fc.assert(
      fc.property(fc.array(lane, { minLength: 1, maxLength: 5 }), (drawn) => {
        const all = inOrder(
          ...drawn.map(({ offset, mbps, seconds }, i) => steady(i, offset, mbps, seconds)),
        );
        const joined = together(all);
        expect(bytesIn(joined)).toBeCloseTo(bytesIn(all), 0);
        if (joined === all) return;
        for (const [i, { from, ms }] of joined.entries()) {
          expect(ms).toBeGreaterThan(from);
          if (i > 0) expect(from).toBe(joined[i - 1]!.ms);
        }
      }),
    );
  });

  it("shows no burst where machines with clocks of their own all go on steadily", () => {
    const all = inOrder(steady(0, 0, 100), steady(1, 3, 200), steady(2, 41.5, 50));
    const spread = spreadOfTrace(all)!;
    expect(spread.p50).toBeCloseTo(350, 0);
    expect(spread.p95).toBeLessThan(351);
    expect(spread.p5).toBeGreaterThan(345);
  });

  it("reads one level out of them, and no stall", () => {
    const asked = (samples: readonly LaneStretch[]) =>
      samples.map((one) => ({ written: 0, requests: 1, step: 0, target: 0, ...one }));
    const all = asked(inOrder(steady(0, 0, 100, 30), steady(1, 37, 200, 30)));
    const { levels, marks, sustainedMBps } = readTrace({ samples: all });
    expect(levels).toHaveLength(1);
    expect(marks.map(({ id }) => id)).toEqual(["level 0 steady"]);
    expect(sustainedMBps).toBeCloseTo(300, -1);
  });

  it("leaves samples on common moments as they are, and those of one target", () => {
    const common = inOrder(steady(0, 0, 100), steady(1, 0, 200));
    expect(together(common)).toBe(common);
    const alone = steady(0, 5, 100);
    expect(together(alone)).toBe(alone);
  });
});
