import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { compareRepeats } from "./compare";
import { summarise } from "./repeats";
import { studentQuantile } from "./student";

describe("Student's t", () => {
  // Two-sided 95 %, from printed tables.
  it.each([
    [1, 12.706],
    [2, 4.303],
    [4, 2.776],
    [9, 2.262],
    [30, 2.042],
  ])("at %i degrees of freedom", (dof, want) => {
    expect(studentQuantile(0.975, dof)).toBeCloseTo(want, 3);
  });
});

describe("repeats", () => {
  it("sums up as worked by hand", () => {
    const { median, mean, spread, cv, interval } = summarise([100, 104, 99]);
    expect(median).toBe(100);
    expect(mean).toBe(101);
    expect(spread).toBeCloseTo(0.05, 12);
    expect(cv).toBeCloseTo(Math.sqrt(7) / 101, 12);
    const half = (4.302652729911275 * Math.sqrt(7)) / Math.sqrt(3);
    expect(interval!.low).toBeCloseTo(101 - half, 6);
    expect(interval!.high).toBeCloseTo(101 + half, 6);
  });

  it("gives one run no interval", () => {
    expect(summarise([42])).toMatchObject({ n: 1, median: 42, cv: null, interval: null });
  });

  it("refuses nothing at all", () => expect(() => summarise([])).toThrow(RangeError));

  const values = fc.array(fc.double({ min: 1, max: 1e4, noNaN: true }), {
    minLength: 2,
    maxLength: 9,
  });
  it("keeps the mean inside its interval, whatever the order and the unit", () => {
    fc.assert(
      fc.property(values, fc.double({ min: 0.1, max: 10, noNaN: true }), (data, unit) => {
        const a = summarise(data);
        const b = summarise(data.toReversed().map((v) => v * unit));
        expect(a.interval!.low).toBeLessThanOrEqual(a.mean + 1e-9);
        expect(b.median).toBeCloseTo(a.median * unit, 6);
        expect(b.spread).toBeCloseTo(a.spread, 9);
      }),
    );
  });
});

describe("differences", () => {
  const around = (centre: number) => summarise([centre * 0.995, centre, centre * 1.004]);
  it("are seen where they are", () => {
    const { kind, change } = compareRepeats(around(1000), around(450));
    expect(kind).toBe("difference");
    expect(change).toBeCloseTo(-0.55, 2);
  });
  it("are not seen in the noise", () => {
    expect(compareRepeats(summarise([100, 90, 110]), summarise([96, 104, 88])).kind).toBe("same");
  });
  it("are not seen where they are too small to matter, however sure", () => {
    expect(compareRepeats(summarise([100, 100, 100]), summarise([101, 101, 101])).kind).toBe(
      "same",
    );
  });
  it("cannot be told from one run", () => {
    expect(compareRepeats(summarise([100]), around(50)).kind).toBe("unknown");
  });
  it("are found by chance in few comparisons of one and the same bench", () => {
    let state = 7;
    const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
    const noisy = () =>
      summarise(Array.from({ length: 4 }, () => 100 + 8 * (random() + random() + random() - 1.5)));
    let found = 0;
    for (let i = 0; i < 400; i++) {
      if (compareRepeats(noisy(), noisy(), 0).kind === "difference") found++;
    }
    expect(found / 400).toBeLessThan(0.08);
    expect(found / 400).toBeGreaterThan(0.01);
  });
});
