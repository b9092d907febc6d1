import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fitByBlock, fitByDepth, misfitByDepth, sayMisfit } from "./ladder";
import { isSteady } from "./steady";

const blocks = Array.from({ length: 16 }, (_, i) => 512 * 2 ** i);

describe("the fit of a ladder by block size", () => {
  it("gives back overhead, rate and half-rate size of a path that has just those", () => {
    const overhead = fc.integer({ min: 1, max: 5000 });
    const rate = fc.integer({ min: 5, max: 8000 });
    fc.assert(
      fc.property(overhead, rate, (us, mbps) => {
        const points = blocks.map((block) => ({ block, iops: 1e6 / (us + block / mbps) }));
        const fit = fitByBlock(points)!;
        expect(fit).toMatchObject({ by: "block" });
        if (fit.by !== "block") return;
        expect(fit.overheadUs / us).toBeCloseTo(1, 6);
        expect(fit.asymptoteMBps / mbps).toBeCloseTo(1, 6);
        expect(fit.halfRateBytes / (us * mbps)).toBeCloseTo(1, 5);
        expect(fit.worst).toBeLessThan(1e-6);
      }),
    );
  });

  it("stays close under noise, and says how far a step lies off", () => {
    const points = blocks.map((block, i) => ({
      block,
      iops: (1e6 / (100 + block / 400)) * (1 + (i % 2 === 0 ? 0.04 : -0.04)),
    }));
    const fit = fitByBlock(points)!;
    if (fit.by !== "block") throw new Error("wrong fit");
    expect(Math.abs(fit.overheadUs / 100 - 1)).toBeLessThan(0.05);
    expect(Math.abs(fit.asymptoteMBps / 400 - 1)).toBeLessThan(0.05);
    expect(fit.worst).toBeGreaterThan(0.03);
    expect(fit.worst).toBeLessThan(0.1);
  });

  it("is none where there is nothing to fit", () => {
    expect(fitByBlock([])).toBeNull();
    expect(fitByBlock([{ block: 4096, iops: 100 }])).toBeNull();
    expect(
      fitByBlock([
        { block: 4096, iops: 0 },
        { block: 8192, iops: 0 },
      ]),
    ).toBeNull();
  });

  it("has no overhead below nothing", () => {
    const fit = fitByBlock([
      { block: 1000, iops: 100 },
      { block: 2000, iops: 40 },
    ]);
    expect(fit?.by === "block" && fit.overheadUs).toBe(0);
  });
});

describe("the reading of a ladder by depth", () => {
  it("says which step it misses, and nothing where it misses none", () => {
    const ladder = (share: number) =>
      [1, 2, 4, 8, 16].map((depth) => ({
        depth,
        iops: Math.min(1000 * depth, 8000) * (depth === 4 ? share : 1),
      }));
    const bent = fitByDepth(ladder(0.6))!;
    if (bent.by !== "depth") throw new Error("not a fit by depth");
    expect(misfitByDepth(bent, ladder(0.6))).toMatchObject({ depth: 4 });
    expect(misfitByDepth(bent, ladder(0.6))!.share).toBeCloseTo(-0.4, 6);
    expect(misfitByDepth(bent, ladder(1))).toBeNull();
    expect(sayMisfit(bent, ladder(1))).toBe("");
    expect(sayMisfit({ ...bent, rises: false }, ladder(0.6))).toBe("");
  });

  const depths = [1, 2, 4, 8, 16, 32, 64, 128, 256];
  it("gives slope, knee and plateau of a path that works on several at once", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 100, max: 50_000 }),
        fc.integer({ min: 3, max: 100 }),
        (single, wide) => {
          const fit = fitByDepth(
            depths.map((depth) => ({ depth, iops: single * Math.min(depth, wide) })),
          )!;
          if (fit.by !== "depth") return;
          expect(fit.rises).toBe(true);
          expect(fit.singleIops).toBeCloseTo(single, 6);
          expect(fit.plateauIops / (single * wide)).toBeGreaterThan(0.9);
          expect(fit.plateauIops).toBeLessThanOrEqual(single * wide);
          expect(fit.kneeDepth / wide).toBeCloseTo(fit.plateauIops / single / wide, 6);
        },
      ),
    );
  });

  it("names a path that serves one at a time", () => {
    expect(
      fitByDepth(depths.map((depth) => ({ depth, iops: 900 + 40 * Math.min(depth, 2) }))),
    ).toMatchObject({
      rises: false,
    });
    expect(fitByDepth([])).toBeNull();
  });
});

describe("steady state", () => {
  it("takes five rounds within a fifth of their mean, that hardly rise or fall", () => {
    expect(isSteady([100, 100, 100, 100])).toBe(false);
    expect(isSteady([100, 104, 97, 101, 99])).toBe(true);
    expect(isSteady([900, 500, 300, 100, 104, 97, 101, 99])).toBe(true);
    expect(isSteady([100, 100, 125, 100, 100])).toBe(false);
    // Within the range, but falling by more than a tenth over the five.
    expect(isSteady([109, 105, 100, 95, 91])).toBe(false);
    expect(isSteady([0, 0, 0, 0, 0])).toBe(false);
  });
});
