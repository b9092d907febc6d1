import { describe, expect, it } from "vitest";
import { studyOf } from "../exchange/study-file";
import { filledAt, restedFor } from "../testing/filled";
import { twoBoxes } from "../testing/two-boxes";
import { jobAt, tellCache, tellFit, tellRest } from "./cache-words";
import { cachesShown } from "./caches";
import { evidenceOf } from "./comparison";
import type { Observation } from "../study/measurement";

const GB = 1e9;
const ALL = { rigs: null, drive: null };
const shown = (change: Parameters<typeof twoBoxes>[0]) => {
  const { measurements, rigs } = studyOf(twoBoxes(change));
  return cachesShown(measurements, rigs, ALL);
};
/** A drive that keeps 6 GB and 30 % of what is free. */
const law = (level: number) => (6 + 300 * (1 - level)) * GB;
const levels = [0, 0.25, 0.5, 0.75, 0.9];
const fills = levels.map((level) => filledAt("r", level, law(level)));

describe("a cache against the free space", () => {
  it("is drawn from fills at several levels, whatever the order, and says both ends", () => {
    const [cache, other] = shown({ runs: fills.toReversed() });
    expect(other).toBeUndefined();
    expect(cache!.fit!.share).toBeCloseTo(0.3, 9);
    expect(cache!.fit!.fixedBytes / GB).toBeCloseTo(6, 6);
    expect(cache!.fills.map(({ level }) => level)).toEqual([null, 0.25, 0.5, 0.75, 0.9]);
    expect(tellCache(cache!)).toMatch(/306 GB with 1 TB free, and 36 GB with 100 GB free/);
    expect(tellFit(cache!.fit!)).toMatch(/30.% of the free space/);
  });

  it("joins the fills of one drive through all its rigs", () => {
    const [cache] = shown({ runs: [fills[0]!, filledAt("s", 0.5, law(0.5))] });
    expect(cache!.fills.map(({ letter }) => letter)).toEqual(["A", "B"]);
  });

  it("is left out where a drive was filled at one level only", () => {
    expect(shown({ runs: [fills[0]!, filledAt("r", 0, law(0))] })).toEqual([]);
    expect(shown({ runs: [] })).toEqual([]);
  });

  it("counts a fill that met no end as at least so much, and lays no line through it", () => {
    const [cache] = shown({ runs: [filledAt("r", 0, null), ...fills.slice(1)] });
    expect(cache!.fills[0]).toMatchObject({ edge: false, afterMBps: null });
    expect(cache!.fit!.share).toBeCloseTo(0.3, 9);
    const [none] = shown({ runs: [filledAt("r", 0, null), filledAt("r", 0.5, null)] });
    expect([none!.fit, tellCache(none!)]).toEqual([null, expect.stringMatching(/No fill/)]);
  });

  it("says of a cache of one size that it is the same at every level", () => {
    const [cache] = shown({ runs: levels.map((level) => filledAt("r", level, 24 * GB)) });
    expect(tellCache(cache!)).toMatch(/24 GB at every fill level/);
  });
});

describe("a job at a fill level", () => {
  it("goes at full rate as far as the cache does, and slowly from there", () => {
    const [cache] = shown({ runs: fills });
    const full = cache!.fills.at(-1)!;
    expect(jobAt(36 * GB, full)).toBeCloseTo(36e3 / 900, 6);
    expect(jobAt(96 * GB, full)).toBeCloseTo(36e3 / 900 + 60e3 / 120, 6);
  });

  it("is not foretold beyond what a fill without an end has written", () => {
    const [cache] = shown({ runs: [filledAt("r", 0, null), fills[1]!] });
    expect(jobAt(100 * GB, cache!.fills[0]!)).toBeCloseTo(1e5 / 900, 6);
    expect(jobAt(950 * GB, cache!.fills[0]!)).toBeNull();
  });
});

describe("rest after a job", () => {
  it("follows from the rests after which the cache was not whole again", () => {
    // A gigabyte a second comes back; after 600 s all 306 GB are there.
    const [cache] = shown({ runs: [...fills, restedFor("r", law(0), GB, [30, 120, 600])] });
    expect(cache!.recovery).toEqual({ bytesPerSecond: GB, wholeAfterSeconds: 600 });
    expect(tellRest(cache!, 200 * GB)).toMatch(/3 min|200 s/);
    // No more than the cache holds has to be cleared.
    expect(tellRest(cache!, 900 * GB)).toBe(
      tellRest(cache!, 306 * GB)!.replace("306 GB", "900 GB"),
    );
  });

  it("is not said where every rest was long enough, or nothing rested", () => {
    const [cache] = shown({ runs: [...fills, restedFor("r", law(0), GB, [400, 600])] });
    expect(tellRest(cache!, 200 * GB)).toBeNull();
    expect(tellRest(shown({ runs: fills })[0]!, 200 * GB)).toBeNull();
  });
});

describe("a comparison of rigs that were measured at several fill levels", () => {
  it("holds against each other what was made without ballast, where there is such", () => {
    const seenIn = (runs: Parameters<typeof filledAt>[1][]) => {
      const file = twoBoxes({ runs: runs.map((level) => filledAt("r", level, law(level))) });
      const { measurements, rigs } = studyOf(file);
      return evidenceOf(rigs, measurements).of.get("r")!.map(levelIn);
    };
    const levelIn = ({ circumstances }: Observation) =>
      circumstances.conditions?.ballast?.level ?? 0;
    expect(seenIn([0, 0.5, 0.9])).toEqual([0]);
    expect(seenIn([0.5, 0.9]).toSorted()).toEqual([0.5, 0.9]);
  });
});
