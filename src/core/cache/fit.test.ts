import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { cacheAt, fitCache } from "./fit";

const GB = 1e9;
const points = (law: (free: number) => number, frees: readonly number[]) =>
  frees.map((free) => ({ freeBytes: free * GB, cacheBytes: law(free) * GB }));

describe("a cache by the free space", () => {
  it("is a fixed part and a share, where there is no floor", () => {
    const fit = fitCache(points((free) => 6 + 0.3 * free, [1000, 750, 500, 250, 100]))!;
    expect(fit.fixedBytes / GB).toBeCloseTo(6, 6);
    expect(fit.share).toBeCloseTo(0.3, 9);
    expect(fit.floorBytes).toBeNull();
    expect(fit.interval!.low).toBeCloseTo(0.3, 6);
  });

  it("has a floor only where several points lie on it", () => {
    const law = (free: number) => Math.max(20, 0.33 * free - 40);
    const fit = fitCache(points(law, [1000, 750, 500, 150, 100, 50]))!;
    expect(fit.floorBytes! / GB).toBeCloseTo(20, 6);
    expect(fit.share).toBeCloseTo(0.33, 6);
    expect(fitCache(points((free) => 0.3 * free, [900, 600, 300, 1]))!.floorBytes).toBeNull();
  });

  it("is the same size whatever is free, where it does not follow", () => {
    const fit = fitCache(points(() => 24, [1000, 500, 100]))!;
    expect(fit.share).toBeCloseTo(0, 9);
    expect(cacheAt(fit, 10 * GB) / GB).toBeCloseTo(24, 6);
  });

  it("is not told by fills at one level, however many", () => {
    expect(fitCache(points(() => 40, [500, 500, 500]))).toBeNull();
    const repeats = [500, 501, 499].map((free) => ({ freeBytes: free * GB, cacheBytes: free }));
    expect(fitCache(repeats)).toBeNull();
    expect(fitCache([])).toBeNull();
  });

  it("comes back from noisy fills within a few hundredths of what is free", () => {
    const noise = fc.array(fc.double({ min: -0.01, max: 0.01, noNaN: true }), {
      minLength: 5,
      maxLength: 5,
    });
    const one = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(noise, one, one, (off, a, b) => {
        const [fixed, share] = [a * 50, 0.1 + 0.25 * b];
        const frees = [1000, 750, 500, 250, 100];
        const noisy = points((free) => fixed + share * free, frees).map((point, i) => ({
          ...point,
          cacheBytes: point.cacheBytes * (1 + off[i]!),
        }));
        const fit = fitCache(noisy)!;
        for (const free of frees)
          expect(Math.abs(cacheAt(fit, free * GB) / GB - fixed - share * free)).toBeLessThan(
            0.03 * (fixed + share * 1000),
          );
      }),
    );
  });

  it("never shrinks as more is free, for a drive that keeps a share of it", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.02, max: 0.5, noNaN: true }),
        fc.double({ min: 0, max: 60, noNaN: true }),
        (share, floor) => {
          const law = (free: number) => Math.max(floor, share * free);
          const fit = fitCache(points(law, [1000, 750, 500, 250, 100]))!;
          const at = [50, 100, 200, 400, 800].map((free) => cacheAt(fit, free * GB));
          expect(at).toEqual(at.toSorted((a, b) => a - b));
        },
      ),
    );
  });
});
