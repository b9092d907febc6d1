import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { IN_MB } from "../units/number";
import { crossCheck } from "./cross-check";
import { rateWhenAsked, type PathRates } from "./path-rates";
import { readStated } from "./stated-figure";
import { nextOf, tellCrossCheck } from "./cross-check-words";

const MIB = 2 ** 20;
const KIB = 2 ** 10;

/** 60 µs for each request, 1 100 MB/s one at a time, 1 430 in a row, 200 000 requests a second. */
const PATH: PathRates = {
  overheadUs: 60,
  mbps: 1100,
  mostIops: 200_000,
  worst: 0.04,
  mostMBps: 1430,
  randomUs: 20,
};
const said = (text: string) => {
  const { figures, problems } = readStated(text);
  expect(problems).toEqual([]);
  return crossCheck(PATH, figures);
};

describe("what programs show, read line by line", () => {
  it.each([
    ["Marmot: 1 430 MB/s, 1 MiB, 8 in flight", [1430, MIB, 8, false]],
    ["Marmot: 1,430 MB/s, 1MiB, 8 in flight", [1430, MIB, 8, false]],
    ["Marmot: 128K random, one at a time, 5,6 Gb/s", [700, 128 * KIB, 1, true]],
    ["Marmot: 85k IOPS at 4 KiB, 32 in flight, random", [348.16, 4096, 32, true]],
    ["Marmot: 320 GB in 6:40, 1 MiB, 8 in flight", [800, MIB, 8, false]],
  ])("takes %s", (text, [mbps, block, depth, isRandom]) => {
    const { figures, problems } = readStated(text);
    expect(problems).toEqual([]);
    expect(figures).toMatchObject([{ name: "Marmot", block, depth, isRandom }]);
    expect(figures[0]!.mbps).toBeCloseTo(mbps as number, 6);
  });

  it.each([
    ["730 MB/s, 1 MiB, 8 in flight", /colon/],
    ["Marmot: 730 MB/s, 8 in flight", /size of a request/],
    ["Marmot: 730 MB/s, 3 KiB, 1 in flight, 1 byte", null],
    ["Marmot: 730 MB/s, 100 B, 1 in flight", /size of a request/],
    ["Marmot: 730 MB/s, 1 MiB", /in flight/],
    ["Marmot: 730 MB/s, 1 MiB, 0 in flight", /in flight/],
    ["Marmot: fast, 1 MiB, 8 in flight", /figure/],
    ["Marmot: -5 MB/s, 1 MiB, 8 in flight", /figure/],
  ])("says what is missing of %s", (text, problem) => {
    const { problems } = readStated(`\n${text}`);
    if (problem) expect(problems).toMatchObject([{ line: 2 }]);
    if (problem) expect(problems[0]!.problem).toMatch(problem);
    else expect(problems).toEqual([]);
  });

  it("bounds what it takes, whatever comes", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200, unit: "binary" }), (text) => {
        const { figures, problems } = readStated(text.repeat(30));
        for (const { mbps, name } of figures) {
          expect(mbps).toBeGreaterThan(0);
          expect(name.length).toBeLessThanOrEqual(80);
        }
        expect(figures.length + problems.length).toBeLessThanOrEqual(4001);
      }),
    );
  });
});

describe("programs held against the ladders of a rig", () => {
  const asking = fc.record({
    block: fc.integer({ min: 1, max: 8192 }).map((n) => n * 512),
    depth: fc.integer({ min: 1, max: 256 }),
    isRandom: fc.boolean(),
  });

  it("gives no more than the bytes and the requests that the path carries, and more with each in flight", () => {
    fc.assert(
      fc.property(asking, (how) => {
        const rate = rateWhenAsked(PATH, how)!;
        expect(rate).toBeLessThanOrEqual(PATH.mostMBps);
        expect((rate * 1e6) / how.block).toBeLessThanOrEqual(PATH.mostIops! * (1 + 1e-9));
        expect(rateWhenAsked(PATH, { ...how, depth: how.depth + 1 })).toBeGreaterThanOrEqual(rate);
        expect(rateWhenAsked(PATH, { ...how, isRandom: false })).toBeGreaterThanOrEqual(rate);
      }),
    );
  });

  it("finds in agreement whatever shows what the path gives, and no other", () => {
    fc.assert(
      fc.property(asking, fc.double({ min: -0.6, max: 0.6, noNaN: true }), (how, off) => {
        fc.pre(Math.abs(Math.abs(off) - 0.1) > 1e-6);
        const mbps = rateWhenAsked(PATH, how)! * (1 + off);
        const [one] = crossCheck(PATH, [{ name: "any", mbps, ...how }]).figures;
        expect(one!.verdict).toBe(Math.abs(off) < 0.1 ? "as asked" : off > 0 ? "more" : "less");
      }),
    );
  });

  it("says that two agree, what each is of, and which setting makes the difference", () => {
    const check = said(
      "Scree: 730 MB/s, 128 KiB, 1 in flight\nMarmot: 1430 MB/s, 1 MiB, 8 in flight",
    );
    expect(tellCrossCheck(check, IN_MB)).toMatch(
      /^They agree: with 128 KiB, one in flight, 73\d MB\/s is what this path gives; with 1 MiB, 8 in flight, 1.430 MB\/s is what this path gives\. .*with 8 requests in flight Scree would show 1.430 MB\/s\.$/,
    );
    expect(check.differs).toMatchObject({ slow: "Scree", setting: "depth" });
    expect(check.figures.map(nextOf)).toEqual(["", ""]);
  });

  it("says which one does not agree, by how much, and what may lie behind", () => {
    const check = said("Scree: 500 MB/s, 128 KiB, 1 in flight\nMarmot: 5 GB/s, 1 MiB, 8 in flight");
    const text = tellCrossCheck(check, IN_MB);
    expect(text).toMatch(/Scree shows 3\d.% less .*Marmot shows 250.% more/);
    expect(nextOf(check.figures[0]!)).toMatch(/took 83\.0 µs longer/);
    expect(nextOf(check.figures[1]!)).toMatch(/Memory/);
  });

  it("leaves random places open where no ladder tells what they cost", () => {
    const { figures } = readStated("Scree: 40 MB/s, 4 KiB, 1 in flight, random");
    const check = crossCheck({ ...PATH, randomUs: null }, figures);
    expect(check.figures[0]).toMatchObject({ verdict: "open", off: null });
    expect(tellCrossCheck(check, IN_MB)).toMatch(/Depth ladder/);
    expect(nextOf(check.figures[0]!)).toMatch(/Depth ladder/);
  });
});
