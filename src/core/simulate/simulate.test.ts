import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { findingOf } from "../locate/finding";
import { summarise } from "../stats/repeats";
import { cable, drive, enclosure, port, rig, USB_5G } from "../testing/rigs";
import { meanRate } from "../trace/rates";
import { correlated, seeded } from "./noise";
import { simulateRig } from "./rig";

const drill = usualDrill("haul", "read");
const block = 512 * 1024;
const bench = rig([port(), cable(USB_5G), enclosure(), drive()]);

describe("simulated rig", () => {
  it("is repeatable by its seed, and different with another", () => {
    expect(simulateRig(bench, drill, 5)).toEqual(simulateRig(bench, drill, 5));
    expect(simulateRig(bench, drill, 6).samples).not.toEqual(simulateRig(bench, drill, 5).samples);
  });

  it("runs where its narrows lets good hardware run, whatever the seed", () => {
    fc.assert(
      fc.property(fc.integer(), (seed) => {
        const means = [0, 1, 2].map((k) => meanRate(simulateRig(bench, drill, seed + k).samples));
        expect(findingOf(bench, "read", summarise(means))!.kind).toBe("at narrows");
      }),
      { numRuns: 30 },
    );
  });

  it("gains nothing from depth without queueing", () => {
    const unqueued = rig(bench.parts, "u", { transport: "usb-unqueued" });
    const small = { ...drill, block: 4096 };
    const rate = (r: typeof bench, depth: number) =>
      meanRate(simulateRig(r, { ...small, depth }, 1).samples);
    expect(rate(unqueued, 32) / rate(unqueued, 1)).toBeLessThan(1.1);
    expect(rate(bench, 32) / rate(bench, 1)).toBeGreaterThan(3);
  });

  it("moves whole requests and gives ordered request times", () => {
    const { samples, step } = simulateRig(bench, drill, 3);
    const { requests, latencyUs } = step;
    expect(samples.every(({ bytes }) => bytes % block === 0)).toBe(true);
    expect(requests * block).toBe(samples.reduce((sum, s) => sum + s.bytes, 0));
    const { p50, p95, p99, p999, max } = latencyUs;
    expect([p50, p95, p99, p999, max]).toEqual(
      [p50, p95, p99, p999, max].toSorted((x, y) => x - y),
    );
  });

  it("yields nothing through a dead link", () => {
    expect(simulateRig(rig([port(["sata-6g"]), enclosure(), drive()]), drill, 1).samples).toEqual(
      [],
    );
  });
});

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
