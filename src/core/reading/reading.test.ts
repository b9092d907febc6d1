import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { plainSample } from "../run/step";
import { changesOf } from "./changes";
import { bestMean, bytesUntil, flowOf, gapsOf } from "./flow";
import type { Correction } from "../run/mark";
import { longRunVariance, runningMedian } from "./noise";
import { IN_MB } from "../units/number";
import { headlineRate } from "../trace/rates";
import { readTrace } from "./read";
import { tellReading } from "./reading-words";
import { cutsOf } from "./segment";
import { correlated, seeded } from "../simulate/noise";
import { scoreEdges, scoreHeat } from "./testing/held-against-truth";
import { heatAssortment } from "./testing/made-heat";
import { assortment, madeTrace } from "./testing/made-traces";

/** Rates in MB/s, each for so many seconds, ten samples a second. */
const trace = (...levels: [mbps: number, seconds: number][]) =>
  madeTrace({ seed: 5, levels, sampleMs: 100, noise: 0.02, keep: 0.5 }).samples.map((one) =>
    plainSample(one.from, one.ms, Math.round(one.bytes), true),
  );
const read = (samples: ReturnType<typeof trace>, corrections: Correction[] = []) =>
  readTrace({ samples, corrections });

describe("a flow", () => {
  const stretches = fc
    .array(fc.tuple(fc.constantFrom(0, 0, 0, 700), fc.integer({ min: 1, max: 400 }), fc.nat(1e9)), {
      minLength: 1,
      maxLength: 80,
    })
    .map((all) => {
      let at = 0;
      return all.map(([gap, long, bytes]) => {
        const from = at + gap;
        at = from + long;
        return { from, ms: at, bytes };
      });
    });

  it("loses no byte, and its best stretch is the best there is", () => {
    fc.assert(
      fc.property(stretches, fc.integer({ min: 50, max: 5000 }), (samples, width) => {
        const flow = flowOf(samples);
        const sum = samples.reduce((total, { bytes }) => total + bytes, 0);
        const end = samples.at(-1)!.ms;
        expect(bytesUntil(flow, end)).toBeCloseTo(sum, 3);
        const best = bestMean(flow, width);
        const start = samples[0]!.from;
        if (end - start <= width) return;
        for (let from = start; from <= end - width; from += 37)
          expect(best * width * 1e3).toBeGreaterThanOrEqual(
            bytesUntil(flow, from + width) - bytesUntil(flow, from) - 1,
          );
      }),
      { numRuns: 60 },
    );
  });

  it("has gaps where nothing was sampled, and joins what several targets moved at once", () => {
    const flow = flowOf([
      { from: 0, ms: 100, bytes: 1 },
      { from: 0, ms: 100, bytes: 2 },
      { from: 900, ms: 1000, bytes: 4 },
    ]);
    expect([...flow.bytes]).toEqual([3, 4]);
    expect(gapsOf(flow)).toEqual([{ from: 100, to: 900 }]);
  });
});

describe("noise", () => {
  it("counts for more where neighbours go together, and not for more because a level changed", () => {
    const series = (keep: number, step: number) => {
      const next = correlated(seeded(11), keep);
      return Float64Array.from({ length: 3000 }, (_, i) => next() + (i < 1200 ? 0 : step));
    };
    const plain = longRunVariance(series(0, 0));
    expect(plain).toBeGreaterThan(0.6);
    expect(plain).toBeLessThan(1.6);
    // An AR(1) series that keeps 0.8 has a long-run variance of (1 + 0.8) / (1 - 0.8) = 9.
    const kept = longRunVariance(series(0.8, 0));
    expect(kept).toBeGreaterThan(5);
    expect(kept).toBeLessThan(16);
    expect(longRunVariance(series(0, 20)) / plain).toBeLessThan(1.6);
  });

  it("is smoothed without moving an edge, whatever stands out alone", () => {
    const values = Float64Array.from({ length: 40 }, (_, i) => (i < 20 ? 1 : 5));
    values[7] = 90;
    const smooth = runningMedian(values, 3);
    expect([...smooth]).toEqual(Array.from({ length: 40 }, (_, i) => (i < 20 ? 1 : 5)));
  });
});

describe("cuts", () => {
  it("lie where the level changes, as many as are worth their price", () => {
    const values = Float64Array.from({ length: 90 }, (_, i) => (i < 30 ? 0 : i < 60 ? 3 : 1));
    expect(cutsOf(values, 1, 2)).toEqual([30, 60]);
    expect(cutsOf(values, 1e6, 2)).toEqual([]);
    expect(cutsOf(values.subarray(0, 30), 1, 2)).toEqual([]);
  });
});

describe("the levels of a trace whose truth is known", () => {
  it("are found where they are, and none is invented", () => {
    const { edges, flats } = scoreEdges(assortment(120, 4));
    expect(edges.right / edges.of, edges.wrong.join("\n")).toBeGreaterThanOrEqual(0.95);
    expect(flats.right / flats.of, flats.wrong.join("\n")).toBeGreaterThanOrEqual(0.98);
  });

  it("are told apart by what makes them: heat, a cache, neither", () => {
    const score = scoreHeat(heatAssortment(60, 4));
    expect(score.right / score.of, score.wrong.join("\n")).toBeGreaterThanOrEqual(0.95);
  });

  it("are found at the very beginning of a long run too", () => {
    const made = madeTrace({
      seed: 3,
      sampleMs: 1000,
      noise: 0.03,
      keep: 0.3,
      levels: [
        [2000, 60],
        [800, 40_000],
      ],
    });
    const [first] = changesOf(flowOf(made.samples));
    expect(Math.abs(first!.ms - 60_000)).toBeLessThan(2500);
  });

  it("do not depend on the unit of the rate", () => {
    const samples = trace([900, 20], [300, 60]);
    const places = (scale: number) =>
      changesOf(flowOf(samples.map((one) => ({ ...one, bytes: one.bytes * scale })))).map(
        ({ ms }) => ms,
      );
    expect(places(1024)).toEqual(places(1));
  });
});

describe("a reading", () => {
  it("names the burst before the cache's edge and what is left after it", () => {
    const reading = readTrace({ samples: trace([900, 20], [300, 60]), freeBytes: 100e9 });
    expect(reading.levels.map(({ name }) => name)).toEqual(["burst", "folded"]);
    expect(Math.abs(reading.cacheEdge!.bytes / 18e9 - 1)).toBeLessThan(0.05);
    expect(reading.cacheEdge!.freeBytes).toBe(100e9 - reading.cacheEdge!.bytes);
    expect(reading.throttled).toBeNull();
    expect(Math.abs(reading.steadyMBps / 300 - 1)).toBeLessThan(0.03);
    expect(Math.abs(reading.sustainedMBps / 300 - 1)).toBeLessThan(0.03);
    expect(reading.burstMBps).toBeGreaterThan(870);
  });

  it("calls nothing a cache where nothing was written, and does not guess at heat", () => {
    const samples = trace([900, 20], [300, 60]).map((one) => ({ ...one, written: 0 }));
    const reading = readTrace({ samples });
    expect(reading.cacheEdge).toBeNull();
    expect(reading.throttled).toBeNull();
    expect(readTrace({ samples: trace([400, 60]) }).throttled).toBe(false);
  });

  it("has stalls, gaps and dips as what they are, and no level of their own but stalls", () => {
    const stalled = trace([500, 20], [0.0001, 4], [500, 26]);
    const reading = read(stalled);
    expect(reading.levels.map(({ name }) => name)).toEqual(["steady", "stall", "steady"]);
    expect(reading.levels[1]!.toMs - reading.levels[1]!.fromMs).toBeCloseTo(4000, -2);
    const gapped = [...trace([500, 20]), ...trace([500, 20]).map(later(30_000))];
    const { marks, levels } = read(gapped);
    expect(levels.map(({ name, fromMs, toMs }) => [name, fromMs, toMs])).toEqual([
      ["steady", 0, 20_000],
      ["steady", 30_000, 50_000],
    ]);
    expect(Math.abs(read(gapped).steadyMBps / 500 - 1)).toBeLessThan(0.02);
    expect(marks.filter(({ name }) => name === "gap")).toMatchObject([
      { ms: 20_000, until: 30_000 },
    ]);
    const dips = madeTrace({
      seed: 2,
      levels: [[500, 120]],
      sampleMs: 100,
      noise: 0.02,
      keep: 0,
      dips: { every: 10, seconds: 0.8, leaves: 0.3 },
    }).samples.map((one) => plainSample(one.from, one.ms, Math.round(one.bytes), true));
    const dipped = read(dips);
    expect(dipped.levels).toHaveLength(1);
    expect(dipped.marks.filter(({ name }) => name === "dips")).toHaveLength(1);
  });

  it("knows what came back in a pause, however soon it is gone again", () => {
    const filled = trace([900, 20], [300, 120]);
    const after = trace([900, 5], [300, 135]).map(later(300_000));
    const names = read([...filled, ...after]).levels.map(({ name }) => name);
    expect(names).toEqual(["burst", "folded", "recovery", "folded"]);
  });

  it("takes what goes up and down for ever as sustained at its mean", () => {
    const turns = Array.from({ length: 5 }, (): [number, number][] => [
      [800, 20],
      [400, 20],
    ]).flat();
    expect(Math.abs(read(trace(...turns)).sustainedMBps / 600 - 1)).toBeLessThan(0.03);
  });

  it("covers the whole time with its levels, whatever is read", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 20, max: 3000 }), fc.integer({ min: 1, max: 40 })), {
          minLength: 1,
          maxLength: 6,
        }),
        (levels) => {
          const samples = trace(...(levels as [number, number][]));
          const reading = read(samples);
          expect(reading.levels[0]!.fromMs).toBe(samples[0]!.from);
          expect(reading.levels.at(-1)!.toMs).toBe(samples.at(-1)!.ms);
          for (const [i, level] of reading.levels.entries()) {
            if (i > 0) expect(level.fromMs).toBe(reading.levels[i - 1]!.toMs);
            expect(level.toMs).toBeGreaterThan(level.fromMs);
          }
          // A mean over ten seconds holds a stretch of five that is no slower.
          const { fromMs, toMs } = reading.levels.at(-1)!;
          if (toMs - fromMs >= 10_000)
            expect(reading.burstMBps).toBeGreaterThanOrEqual(reading.sustainedMBps * 0.98);
        },
      ),
      { numRuns: 40 },
    );
  });

  it("is of nothing where there is nothing", () => {
    expect(readTrace({ samples: [] })).toMatchObject({
      levels: [],
      marks: [],
      cacheEdge: null,
      burstMBps: 0,
      sustainedMBps: 0,
    });
  });
});

/** A write of 900 MB/s that falls to 300 after 300 s of 600, with a temperature for each second. */
const fallAt = (celsius: (second: number) => number) => {
  const samples = Array.from({ length: 600 }, (_, i) =>
    plainSample(i * 1e3, (i + 1) * 1e3, (i < 300 ? 900 : 300) * 1e6 + (i % 3) * 1e6, true),
  );
  const readings = samples.map(({ ms }, i) => ({
    ms,
    engine: null,
    machine: null,
    celsius: { drive: Math.round(celsius(i)) },
  }));
  return readTrace({ samples, readings });
};

describe("the cause of a lasting drop of a write", () => {
  it("is the cache where the drive was as hot at the full rate for minutes before", () => {
    for (const celsius of [73, 80])
      expect(fallAt(() => celsius)).toMatchObject({
        cacheEdge: { cause: "cache" },
        throttled: false,
      });
    expect(fallAt((i) => Math.min(73, 35 + i / 2)).cacheEdge?.cause).toBe("cache");
  });

  it("is heat where the drive became hot up to it, and cooled no further", () => {
    expect(fallAt((i) => (i < 300 ? 35 + (i * 43) / 300 : 77))).toMatchObject({
      cacheEdge: null,
      throttled: true,
    });
  });

  it("stays open where the signs disagree, and where there is no temperature; its place is told all the same", () => {
    const disagree = fallAt((i) => (i < 300 ? 40 + i / 10 : Math.max(62, 70 - (i - 300) / 5)));
    expect(disagree).toMatchObject({ cacheEdge: { ms: 300e3, cause: null }, throttled: null });
    expect(tellReading(disagree)).toMatch(/Cache or heat: the temperature does not tell which/);
    const untold = read(trace([900, 20], [300, 60]));
    expect(untold.cacheEdge).toMatchObject({ cause: null });
    expect(tellReading(untold)).not.toMatch(/cache gave out/);
  });
});

describe("a flow that comes in bursts", () => {
  // All that a throttle lets through in half a second comes in one sample of a tenth.
  const bursts = (mbps: number, halves: number, from = 0) =>
    Array.from({ length: halves * 5 }, (_, i) =>
      plainSample(from + i * 100, from + (i + 1) * 100, i % 5 === 0 ? mbps * 0.5e6 : 0, true),
    );

  it("has the rate of the run as the rate of its one level, in all figures and in the sentence", () => {
    const samples = bursts(150, 60);
    const reading = readTrace({ samples });
    const headline = headlineRate(samples.map(({ ms, bytes }) => ({ ms, bytes })));
    expect(reading.levels.map(({ rateMBps }) => rateMBps)).toEqual([headline]);
    expect([reading.steadyMBps, reading.sustainedMBps]).toEqual([headline, headline]);
    expect(Math.abs(headline / 150 - 1)).toBeLessThan(0.01);
    expect(tellReading(reading)).toContain(IN_MB.said(headline));
  });

  it("has the rate of each level, and no dips that leave most of it", () => {
    const reading = readTrace({ samples: [...bursts(150, 80), ...bursts(50, 80, 40_000)] });
    const rates = reading.levels.map(({ rateMBps }) => Math.round(rateMBps));
    expect(rates).toEqual([150, 50]);
    expect(reading.sustainedMBps).toBe(reading.levels[1]!.rateMBps);
    expect(reading.marks.filter(({ name }) => name === "dip" || name === "dips")).toEqual([]);
  });

  it("has no dip where little is missing for a moment", () => {
    const samples = Array.from({ length: 600 }, (_, i) =>
      plainSample(i * 100, (i + 1) * 100, i >= 300 && i < 303 ? 14.85e6 : 15e6, true),
    );
    expect(readTrace({ samples }).marks.filter(({ of }) => of === "happening")).toEqual([]);
  });
});

const later = (ms: number) => (one: ReturnType<typeof plainSample>) => ({
  ...one,
  from: one.from + ms,
  ms: one.ms + ms,
});

describe("corrections by hand", () => {
  const samples = trace([900, 20], [300, 60]);
  const found = read(samples);
  const edge = found.marks.find(({ name }) => name === "folded")!;

  it("move an edge, and all that follows from it moves along", () => {
    const { cacheEdge, marks, corrections } = read(samples, [
      { do: "move", id: edge.id, ms: 10_000 },
    ]);
    expect(Math.abs(cacheEdge!.bytes / 9e9 - 1)).toBeLessThan(0.05);
    expect(marks.find(({ id }) => id === edge.id)!.corrected).toBe("moved");
    expect(corrections).toBe(1);
  });

  it("rename, strike and add", () => {
    const renamed = read(samples, [{ do: "rename", id: edge.id, name: "throttled" }]);
    expect([renamed.cacheEdge, renamed.throttled]).toEqual([null, true]);
    const struck = read(samples, [{ do: "strike", id: edge.id }]);
    expect(struck.levels.map(({ name }) => name)).toEqual(["burst"]);
    const added = read(samples, [
      { do: "add", id: "mine", of: "level", name: "recovery", ms: 50_000 },
      { do: "add", id: "seen", of: "happening", name: "note", ms: 51_000 },
    ]);
    expect(added.levels.map(({ name }) => name)).toEqual(["burst", "folded", "recovery"]);
    expect(added.marks.filter((mark) => mark.corrected === "added")).toHaveLength(2);
  });

  it("leave the beginning where it is, and what is not there alone", () => {
    const [beginning] = found.marks;
    const same = read(samples, [
      { do: "strike", id: beginning!.id },
      { do: "move", id: beginning!.id, ms: 5000 },
      { do: "strike", id: "gone long ago" },
      { do: "rename", id: edge.id, name: "stall" },
    ]);
    expect(same.levels).toEqual(found.levels);
  });

  it("are undone by taking them away, whatever they were", () => {
    const some = fc.array(
      fc.oneof(
        fc.record({
          do: fc.constant("move" as const),
          id: fc.constantFrom(...found.marks.map(({ id }) => id)),
          ms: fc.integer({ min: -5000, max: 90_000 }),
        }),
        fc.record({
          do: fc.constant("strike" as const),
          id: fc.constantFrom(...found.marks.map(({ id }) => id)),
        }),
      ),
      { maxLength: 4 },
    );
    fc.assert(
      fc.property(some, (corrections) => {
        const { levels } = read(samples, corrections);
        expect(levels[0]!.fromMs).toBe(0);
        expect(levels.at(-1)!.toMs).toBe(80_000);
        expect(read(samples)).toEqual(found);
      }),
      { numRuns: 30 },
    );
  });
});
