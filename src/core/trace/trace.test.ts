import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Sample } from "../run/result";
import { plainSample } from "../run/step";
import { correlated, seeded } from "../simulate/noise";
import { Curve } from "./curve";
import { levelsOf } from "../reading/levels";
import { packSamples, unpackSamples } from "./pack";
import { thinned } from "./thin";

const sample: fc.Arbitrary<Sample> = fc
  .record({
    gap: fc.constantFrom(0, 0, 0, 1.5, 900, -0.25),
    length: fc.integer({ min: 1, max: 100_000 }).map((ticks) => ticks / 100),
    bytes: fc.integer({ min: 0, max: 2 ** 45 }),
    share: fc.constantFrom(0, 1, 0.3),
    requests: fc.nat(1e7),
    step: fc.nat(200),
    target: fc.nat(31),
  })
  .map(({ gap, length, bytes, share, ...rest }) => ({
    ...rest,
    from: gap,
    ms: length,
    bytes,
    written: Math.floor(bytes * share),
  }));
/** Samples in order of time, each of a target beginning about where that target's last one ended. */
const trace = fc.array(sample, { maxLength: 60 }).map((all) => {
  const ends = new Map<number, number>();
  return all.map((one) => {
    const from = Math.max(0, (ends.get(one.target) ?? 0) + one.from);
    const ms = from + one.ms;
    ends.set(one.target, ms);
    return { ...one, from, ms };
  });
});

describe("a packed trace", () => {
  it("comes back as it was, to a hundredth of a millisecond", () => {
    fc.assert(
      fc.property(trace, (samples) => {
        const back = unpackSamples(packSamples(samples));
        expect(back.map(({ from: _, ms: _ms, ...rest }) => rest)).toEqual(
          samples.map(({ from: _, ms: _ms, ...rest }) => rest),
        );
        for (const [i, { from, ms }] of back.entries()) {
          expect(Math.abs(from - samples[i]!.from)).toBeLessThan(0.011);
          expect(Math.abs(ms - samples[i]!.ms)).toBeLessThan(0.021);
        }
      }),
    );
  });

  it("takes about ten bytes a sample: half an hour at ten a second well below 2 MB", () => {
    const random = seeded(3);
    const samples = Array.from({ length: 18_000 }, (_, i) =>
      plainSample(i * 100.02, (i + 1) * 100.02, Math.floor(4e7 * (1 + random())), true),
    );
    expect(packSamples(samples).byteLength).toBeLessThan(18_000 * 12);
  });

  it("refuses bytes that are none, and one that breaks off", () => {
    expect(() => unpackSamples(Uint8Array.of(9, 1, 2))).toThrow(RangeError);
    const whole = packSamples([plainSample(0, 100, 1e6)]);
    expect(() => unpackSamples(whole.subarray(0, -1))).toThrow(/break off/);
    expect(unpackSamples(packSamples([]))).toEqual([]);
  });
});

describe("a curve", () => {
  it("keeps every byte and the last moment, in memory that does not grow", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 30_000 }), (count) => {
        const curve = new Curve();
        for (let i = 1; i <= count; i++) curve.add(i * 100, i % 5);
        const { moments } = curve;
        expect(moments.length).toBeLessThanOrEqual(4097);
        expect(moments.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(
          Array.from({ length: count }, (_, i) => (i + 1) % 5).reduce((a, b) => a + b, 0),
        );
        expect(moments.at(-1)?.ms ?? 0).toBe(count * 100);
        for (const [i, { ms }] of moments.entries()) {
          if (i > 0) expect(ms).toBeGreaterThan(moments[i - 1]!.ms);
        }
      }),
      { numRuns: 20 },
    );
  });
});

describe("a thinned trace", () => {
  it("loses no byte, and leaves gaps as they are", () => {
    const samples = Array.from({ length: 1000 }, (_, i) =>
      plainSample(i * 100 + (i >= 500 ? 5000 : 0), (i + 1) * 100 + (i >= 500 ? 5000 : 0), i),
    );
    const thin = thinned(samples, 100);
    expect(thin.length).toBeLessThanOrEqual(101);
    expect(thin.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(499_500);
    expect(thin.some(({ from, ms }) => from < 50_000 && ms > 55_000)).toBe(false);
    expect(thinned(samples, 5000)).toEqual(samples);
  });
});

describe("the levels of a trace", () => {
  /** Rates in MB/s, each for so many seconds, ten moments a second, with noise. */
  const made = (levels: [mbps: number, seconds: number][], noise: number, seed = 1) => {
    const next = correlated(seeded(seed), 0.6);
    let ms = 0;
    return levels.flatMap(([mbps, seconds]) =>
      Array.from({ length: seconds * 10 }, () => {
        ms += 100;
        return { ms, bytes: Math.max(0, mbps * 1e5 * (1 + noise * next())) };
      }),
    );
  };

  it("finds the edge of a cache, burst and what is sustained, whatever the noise", () => {
    for (let seed = 1; seed <= 40; seed++) {
      const noise = 0.01 + (seed % 5) * 0.02;
      const { burst, sustained, edgeBytes } = levelsOf(
        made(
          [
            [900, 20],
            [300, 60],
          ],
          noise,
          seed,
        ),
      );
      expect(Math.abs(edgeBytes! / 18e9 - 1), `seed ${seed}`).toBeLessThan(0.05);
      expect(Math.abs(sustained / 300 - 1)).toBeLessThan(0.05);
      expect(burst).toBeGreaterThan(850);
    }
  });

  it("invents no edge in a flat trace, nor from single dips or slow drift", () => {
    for (let seed = 1; seed <= 40; seed++) {
      const flat = made([[400, 60]], 0.01 + (seed % 5) * 0.02, seed);
      expect(levelsOf(flat).edgeBytes, `seed ${seed}`).toBeNull();
      const dips = flat.map((one, i) => (i % 97 === 0 ? { ...one, bytes: 0 } : one));
      expect(levelsOf(dips).edgeBytes, `dips, seed ${seed}`).toBeNull();
    }
  });

  it("takes what comes after the last of several changes as sustained", () => {
    const { sustained, edgeBytes } = levelsOf(
      made(
        [
          [900, 20],
          [400, 30],
          [150, 50],
        ],
        0.02,
      ),
    );
    expect(Math.abs(sustained / 150 - 1)).toBeLessThan(0.05);
    expect(Math.abs(edgeBytes! / 18e9 - 1)).toBeLessThan(0.05);
  });

  it("says nothing of nothing", () => {
    expect(levelsOf([])).toEqual({ burst: 0, sustained: 0, edgeBytes: null, interrupted: false });
    expect(levelsOf([{ ms: 100, bytes: 1e7 }])).toEqual({
      burst: 100,
      sustained: 100,
      edgeBytes: null,
      interrupted: false,
    });
  });
});
