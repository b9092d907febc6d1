import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Sample } from "../run/result";
import { usualDrill } from "../drills/shape";
import { plainSample } from "../run/step";
import { resultFrom } from "../drills/summary";
import { cable, drive, enclosure, port, rig, USB_10G } from "../testing/rigs";
import { stepDifferences, traceDifferences } from "./differ";
import { Simulation } from "./model";
import { correlated, seeded } from "./noise";
import { simulateRun } from "./run";

const bench = rig([port(), cable(USB_10G), enclosure(), drive()]);
const run = (seed: number, more: object = {}, name = "haul", set: object = { seconds: 120 }) => {
  const drill = usualDrill(name, "read", { ...set });
  const made = simulateRun(bench, drill, Simulation.parse(more), { seed });
  return { ...made, result: resultFrom(drill, made.steps) };
};

/** A trace of ten samples a second at given rates, with noise. */
function trace(seconds: number, at: (s: number) => number, seed: number, noise = 0.02): Sample[] {
  const next = correlated(seeded(seed), 0.7);
  return Array.from({ length: seconds * 10 }, (_, i) =>
    plainSample(i * 100, (i + 1) * 100, at(i / 10) * 1e5 * (1 + noise * next())),
  );
}

describe("a measured trace beside a simulated one", () => {
  it("is the same where only chance differs", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e5 }), (seed) => {
        const [one, other] = [run(seed), run(seed + 1)];
        // One repeat in 25 is an odd one, and differs indeed; and of two whose means lie nearly as
        // far apart as what is asked for, some stretch does.
        fc.pre(Math.abs(one.result.meanMBps / other.result.meanMBps - 1) < 0.025);
        expect(traceDifferences(one.samples, other.samples, 0.05)).toEqual([]);
      }),
      { numRuns: 30 },
    );
  });

  it("differs from the time on at which it fell, by how much it fell", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 20, max: 160 }),
        fc.double({ min: 0.3, max: 0.85, noNaN: true }),
        fc.nat(1e5),
        (fall, share, seed) => {
          const measured = trace(200, (s) => (s < fall ? 900 : 900 * share), seed);
          const [only, ...more] = traceDifferences(
            measured,
            trace(200, () => 900, seed + 1),
          );
          expect(more).toEqual([]);
          expect(Math.abs(only!.fromMs / 1e3 - fall)).toBeLessThan(5);
          expect(only!.toMs).toBeGreaterThan(195e3);
          expect(Math.abs(only!.measuredMBps / only!.simulatedMBps / share - 1)).toBeLessThan(0.05);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("differs for a while where it dips for a while, and nowhere beyond", () => {
    const dip = trace(200, (s) => (s > 80 && s < 120 ? 500 : 900), 3);
    const [only, ...more] = traceDifferences(
      dip,
      trace(200, () => 900, 4),
    );
    expect(more).toEqual([]);
    expect(only!.fromMs / 1e3).toBeCloseTo(80, -1);
    expect(only!.toMs / 1e3).toBeCloseTo(120, -1);
  });

  it("is not told of where there is too little, and gaps are no zeros", () => {
    expect(
      traceDifferences(
        [],
        trace(10, () => 900, 1),
      ),
    ).toEqual([]);
    expect(
      traceDifferences(
        trace(0.3, () => 1, 1),
        trace(10, () => 900, 1),
      ),
    ).toEqual([]);
    const holes = trace(200, () => 900, 5).filter(({ from }) => from < 50e3 || from > 90e3);
    expect(
      traceDifferences(
        holes,
        trace(200, () => 900, 6),
      ),
    ).toEqual([]);
  });

  it("of a ladder is told step by step", () => {
    const set = { seconds: 1, blocks: [4096, 65536, 2 ** 20] };
    const one = run(1, { bench: { noise: 0 } }, "stride-ladder", set);
    const slow = { bench: { noise: 0 }, parts: { drive: { requestUs: { read: 300 } } } };
    const other = run(1, slow, "stride-ladder", set);
    expect(stepDifferences(one.result, one.result)).toEqual([]);
    const told = stepDifferences(other.result, one.result);
    expect(told.map(({ label }) => label.block)).toContain(4096);
    expect(told[0]!.measuredMBps).toBeLessThan(told[0]!.simulatedMBps);
  });
});
