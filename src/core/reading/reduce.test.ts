import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { flowOf } from "./flow";
import { plainSample } from "../run/step";
import { tellReading } from "./reading-words";
import { readTrace } from "./read";
import { reduced } from "./reduce";

describe("a trace in few places", () => {
  it("loses no byte and no extreme, and is the trace itself where there is room", () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(1e8), { minLength: 1, maxLength: 400 }),
        fc.integer({ min: 10, max: 500 }),
        (bytes, most) => {
          const samples = bytes.map((each, i) => plainSample(i * 100, (i + 1) * 100, each));
          const places = reduced(flowOf(samples), 0, bytes.length * 100, most);
          expect(places.length).toBeLessThanOrEqual(Math.max(most, bytes.length) + 1);
          if (bytes.length > most) expect(places.length).toBeLessThanOrEqual(most + 1);
          const rates = bytes.map((each) => each / 1e5);
          expect(Math.max(...places.map((place) => place.most))).toBeCloseTo(Math.max(...rates), 6);
          expect(Math.min(...places.map(({ least }) => least))).toBeCloseTo(Math.min(...rates), 6);
          expect(places.at(-1)!.bytes).toBe(bytes.reduce((a, b) => a + b, 0));
        },
      ),
    );
  });

  it("keeps a gap between two places", () => {
    const samples = [0, 100, 9000, 9100].map((from) => plainSample(from, from + 100, 1e7));
    const places = reduced(flowOf(samples), 0, 9200, 10);
    expect(places.some(({ fromMs, toMs }) => fromMs < 200 && toMs > 9000)).toBe(false);
    expect(places.every(({ mean }) => Math.abs(mean - 100) < 1e-6)).toBe(true);
  });
});

describe("what happened in a run, in words", () => {
  const told = (rates: number[], written: boolean, celsius?: (second: number) => number) =>
    tellReading(
      readTrace({
        samples: rates.map((mbps, i) => plainSample(i * 1e3, (i + 1) * 1e3, mbps * 1e6, written)),
        readings: celsius
          ? rates.map((_, i) => ({
              ms: (i + 1) * 1e3,
              engine: null,
              machine: null,
              celsius: { drive: celsius(i) },
            }))
          : [],
      }),
    );
  const fall = Array.from({ length: 200 }, (_, i) => (i < 80 ? 900 : 300) + (i % 3));

  it("says which it was, and does not guess", () => {
    expect(told(fall, true)).toMatch(
      /^The rate fell after 72\.\d GB, 1 min 20 s .*901 MB\/s before, 301 MB\/s after\. Cache or heat: no temperature/,
    );
    expect(told(fall, true, () => 40)).toMatch(
      /cache gave out after 72\.\d GB, 1 min 20 s .*901 MB\/s before, 301 MB\/s after/,
    );
    expect(told(fall, false)).toMatch(/Whether heat did that is open: no temperature/);
    expect(told(fall, true, (i) => Math.min(78, 38 + i / 2))).toMatch(
      /Heat slowed the run down, from 901 MB\/s to 301/,
    );
    expect(told(fall, false, () => 40)).toMatch(/neither heat nor a cache made it change/);
    expect(told(fall.slice(0, 80), true)).toMatch(/kept one level, 901 MB\/s/);
    expect(told([], true)).toMatch(/Nothing was sampled/);
  });
});
