import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fileTerms, fileTime } from "./copy-figures";

describe("what a file costs beside its bytes", () => {
  const fitted = (files: [bytes: number, ms: number][]) => {
    const sums = [0, 0, 0, 0, 0];
    for (const [bytes, ms] of files)
      fileTerms(bytes, ms).forEach((term, i) => (sums[i] = sums[i]! + term));
    return fileTime(sums);
  };

  it("is given back of a copy that has just that, and explains the whole time", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.integer({ min: 5, max: 3000 }),
        (perFile, mbps) => {
          const sizes = Array.from({ length: 40 }, (_, i) => (i % 9) * 700_000 + 1000);
          const { perFileMs, mbps: rate } = fitted(
            sizes.map((bytes) => [bytes, perFile + bytes / 1e3 / mbps]),
          )!;
          expect(perFileMs / perFile).toBeCloseTo(1, 5);
          expect(rate / mbps).toBeCloseTo(1, 4);
        },
      ),
    );
  });

  it("is not told of files of one size, and never below nothing", () => {
    expect(
      fitted([
        [1000, 1],
        [1000, 2],
      ]),
    ).toBeNull();
    expect(fitted([])).toBeNull();
    expect(
      fitted([
        [1000, 0.001],
        [1_000_000, 10],
        [2_000_000, 25],
      ])!.perFileMs,
    ).toBe(0);
  });
});
