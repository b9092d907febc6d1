import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fitCeiling } from "./ceiling-fit";
import { fanInPoints, fitFanIn } from "./fan-in";

describe("the ceiling of an enclosure over several drives", () => {
  const behind = (ceiling: number, natives: number[], noise = 0) =>
    natives.map((native, i) => ({
      native,
      observed: Math.min(native, ceiling) * (1 + (i % 2 ? noise : -noise)),
    }));

  it("is the plateau, with the interval in which it lies", () => {
    const fit = fitCeiling(behind(1000, [300, 800, 1500, 3000], 0.01), 0.01)!;
    expect(Math.abs(fit.ceiling! / 1000 - 1)).toBeLessThan(0.02);
    expect(fit.low).toBeLessThan(fit.ceiling!);
    expect(fit.high!).toBeGreaterThan(fit.ceiling!);
    expect(fit.worst).toBeLessThan(0.03);
  });

  it("is not known where every drive is slower, only that it is no lower than the fastest", () => {
    const fit = fitCeiling(behind(5000, [300, 800]), 0.01)!;
    expect(fit.ceiling).toBeNull();
    expect(fit.high).toBeNull();
    expect(fit.low).toBeGreaterThan(700);
  });

  it("needs two drives, and grows with the rates", () => {
    expect(fitCeiling(behind(1000, [3000]), 0.02)).toBeNull();
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 10, noNaN: true }), (scale) => {
        const points = behind(1000, [400, 1500, 3000]);
        const larger = points.map(({ native, observed }) => ({
          native: native * scale,
          observed: observed * scale,
        }));
        const [a, b] = [fitCeiling(points, 0.02)!, fitCeiling(larger, 0.02)!];
        expect(b.ceiling! / a.ceiling!).toBeCloseTo(scale, 6);
      }),
    );
  });
});

describe("several drives behind one uplink", () => {
  const total = (drives: number, drive: number, uplink: number) => ({
    drives,
    total: Math.min(drives * drive, uplink),
  });

  it("show what each takes and what they share, and with how many it is full", () => {
    const points = [1, 2, 3, 4].map((n) => total(n, 200, 430));
    const fit = fitFanIn(points)!;
    expect(fit.drive).toBeCloseTo(200, 3);
    expect(fit.uplink).toBeCloseTo(430, 3);
    expect(fit.full).toBeCloseTo(2.15, 2);
    expect(fit.worst).toBeLessThan(1e-6);
  });

  it("show no uplink where it was never full, nor where one drive alone was seen", () => {
    expect(fitFanIn([1, 2, 3].map((n) => total(n, 100, 5000)))).toMatchObject({
      uplink: null,
      full: null,
    });
    expect(fitFanIn([{ drives: 1, total: 100 }])).toBeNull();
    // 2 % less than straight is noise, not an uplink.
    expect(
      fitFanIn([1, 2, 3].map((n) => ({ drives: n, total: n * 100 * (1 - 0.007 * n) })))!.uplink,
    ).toBeNull();
  });

  it("are counted by how many are at work, from the samples of all", () => {
    const samples = Array.from({ length: 60 }, (_, i) => i * 100).flatMap((from) =>
      [0, 1, 2]
        .filter((drive) => from >= drive * 2000)
        .map(() => ({ from, ms: from + 100, bytes: 1e7 * (from >= 4000 ? 0.7 : 1) })),
    );
    const points = fanInPoints(
      [0, 1, 2].map((i) => ({ startedMs: i * 2000 })),
      samples,
    );
    expect(points.map(({ drives, total: all }) => [drives, Math.round(all)])).toEqual([
      [1, 100],
      [2, 200],
      [3, 210],
    ]);
    expect(fitFanIn(points)!.uplink).toBeCloseTo(210, 3);
  });
});
