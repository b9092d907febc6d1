import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { incompleteBeta, studentQuantile } from "./student";

describe("Student's t distribution", () => {
  // NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.2.
  it.each([
    [0.975, 1, 12.706],
    [0.975, 2, 4.303],
    [0.975, 3, 3.182],
    [0.975, 5, 2.571],
    [0.975, 10, 2.228],
    [0.975, 30, 2.042],
    [0.975, 100, 1.984],
    [0.9, 4, 1.533],
    [0.95, 7, 1.895],
    [0.999, 1, 318.313],
    [0.999, 9, 4.297],
  ])("has its quantiles where tables have them: %f of %i", (p, dof, want) => {
    expect(studentQuantile(p, dof)).toBeCloseTo(want, 2);
    expect(studentQuantile(1 - p, dof)).toBeCloseTo(-want, 2);
  });

  it("has its quantiles where one and two degrees have closed forms", () => {
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 0.9995, noNaN: true }), (p) => {
        expect(studentQuantile(p, 1)).toBeCloseTo(Math.tan(Math.PI * (p - 0.5)), 6);
        const two = (2 * p - 1) / Math.sqrt(2 * p * (1 - p));
        expect(studentQuantile(p, 2)).toBeCloseTo(two, 6);
      }),
    );
  });

  it("has the probability below a quantile that was asked for, at any degrees", () => {
    const p = fc.double({ min: 0.501, max: 0.999, noNaN: true });
    const dof = fc.double({ min: 1, max: 500, noNaN: true });
    fc.assert(
      fc.property(p, dof, (asked, degrees) => {
        const t = studentQuantile(asked, degrees);
        const below = 1 - incompleteBeta(degrees / (degrees + t * t), degrees / 2, 0.5) / 2;
        expect(below).toBeCloseTo(asked, 10);
      }),
    );
  });

  it("is the normal one at endless degrees, and refuses what is no probability", () => {
    expect(studentQuantile(0.975, 1e9)).toBeCloseTo(1.96, 3);
    expect(() => studentQuantile(1, 3)).toThrow(RangeError);
    expect(() => studentQuantile(0.9, 0)).toThrow(RangeError);
  });

  it("sums an incomplete beta function up where it is known", () => {
    // I_x(1, b) = 1 - (1 - x)^b, and I_x(a, a) is a half in the middle.
    expect(incompleteBeta(0.3, 1, 4)).toBeCloseTo(1 - 0.7 ** 4, 12);
    expect(incompleteBeta(0.5, 3.5, 3.5)).toBeCloseTo(0.5, 12);
    expect([incompleteBeta(0, 2, 3), incompleteBeta(1, 2, 3)]).toEqual([0, 1]);
  });
});
