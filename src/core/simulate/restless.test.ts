import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Restless } from "./restless";

const SECONDS = 0.1;
const seeds = fc.integer({ min: 0, max: 1e6 });
const factors = (noise: number, seed: number, repeat = 0, plugging = 0) => {
  const restless = new Restless(seed, repeat, plugging, noise, []);
  return Array.from({ length: 100 }, () => restless.next(SECONDS).factor);
};

describe("a restless bench", () => {
  it("departs half as far, tick by tick, where its noise is halved", () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        const half = factors(0.5, seed);
        factors(1, seed).forEach((factor, i) => expect(factor - 1).toBeCloseTo(2 * (half[i]! - 1)));
      }),
    );
  });

  it("is at rest without noise", () => {
    expect(new Set(factors(0, 7))).toEqual(new Set([1]));
  });

  it("differs with its repeat and its plugging-in, and with nothing else", () => {
    fc.assert(
      fc.property(seeds, (seed) => {
        expect(factors(1, seed)).toEqual(factors(1, seed));
        expect(factors(1, seed, 1)).not.toEqual(factors(1, seed));
        expect(factors(1, seed, 0, 1)).not.toEqual(factors(1, seed));
      }),
    );
  });

  it("dips and is reset where a cable is flaky, and says how often it tried again", () => {
    const restless = new Restless(3, 0, 0, 1, [{ kind: "flaky", at: "cable" }]);
    const ticks = Array.from({ length: 12_000 }, () => restless.next(SECONDS));
    expect(ticks.some(({ factor }) => factor < 0.6)).toBe(true);
    expect(ticks.some(({ reset }) => reset)).toBe(true);
    expect(restless.retries).toBeGreaterThan(0);
  });

  it("lets others take their share now and then", () => {
    const restless = new Restless(3, 0, 0, 0, [{ kind: "background", mbps: 120 }]);
    const taken = Array.from({ length: 2_000 }, () => restless.next(SECONDS).taken);
    expect(new Set(taken)).toEqual(new Set([0, 120]));
  });
});
