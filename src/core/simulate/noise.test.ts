import { describe, expect, it } from "vitest";
import { correlated, seeded } from "./noise";

describe("noise", () => {
  it("is uniform in [0, 1)", () => {
    const random = seeded(9);
    const draws = Array.from({ length: 20000 }, random);
    expect(Math.min(...draws)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...draws)).toBeLessThan(1);
    expect(draws.reduce((a, b) => a + b) / draws.length).toBeCloseTo(0.5, 1);
  });
  it("keeps its variance while neighbours resemble each other", () => {
    const next = correlated(seeded(4), 0.7);
    const x = Array.from({ length: 20000 }, next);
    const variance = x.reduce((s, v) => s + v * v, 0) / x.length;
    const lag = x.slice(1).reduce((s, v, i) => s + v * x[i]!, 0) / (x.length - 1) / variance;
    expect(variance).toBeGreaterThan(0.9);
    expect(variance).toBeLessThan(1.1);
    expect(lag).toBeGreaterThan(0.65);
    expect(lag).toBeLessThan(0.75);
  });
});
