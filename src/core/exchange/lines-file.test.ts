import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { bucketOf, BUCKETS, packHistogram } from "../stats/histogram";
import { defineFrom } from "../drills/drill";
import { headlineRate } from "../trace/rates";
import { recordedTraces } from "./recorded";
import { isLinesFile, runsOfLines } from "./lines-file";
import { RunsFile } from "./runs-file";

const ID = "7ad0acc3-3fbf-4250-a43b-94bbdfc9b8ce";
const drill = defineFrom({ name: "haul", direction: "write", repeats: 1 }, null);
const head = { format: "nerrit-lines", version: 1, program: "0.1.0", rig: "Left port" };
const measuring = {
  event: "measuring",
  id: ID,
  createdAt: "2026-11-30T10:00:00.000Z",
  drill,
  target: "E:\\test",
};
const started = { event: "started", repeat: 0, at: "2026-11-30T10:00:01.000Z" };
const counted = {
  event: "counted",
  repeat: 0,
  step: 0,
  doing: "flow",
  label: {},
  seconds: 1,
  bytes: null,
  countFlush: false,
  block: 4096,
  requests: 0,
  startMs: 0,
  ms: 0,
  read: 0,
  written: 0,
  processorUs: 0,
  deviceBytes: null,
  flushMs: 2.5,
  readTimes: null,
  writeTimes: null,
  faults: [],
  moreFaults: 0,
};
const fileOf = (...lines: object[]) => lines.map((line) => `${JSON.stringify(line)}\n`).join("");

/** A whole measurement, of so many requests in each tenth of a second, and of request times. */
function whole(tenths: readonly number[], times: readonly number[]): string {
  const histogram = new Float64Array(BUCKETS);
  for (const ns of times) histogram[bucketOf(ns)]! += 1;
  const requests = tenths.reduce((sum, one) => sum + one, 0);
  const samples = tenths.map((one, i) => ({
    event: "sample",
    repeat: 0,
    row: [i * 100, (i + 1) * 100, one * 4096, one * 4096, one, 0],
  }));
  return fileOf(
    head,
    measuring,
    started,
    ...samples,
    {
      ...counted,
      requests,
      ms: tenths.length * 100,
      written: requests * 4096,
      writeTimes:
        times.length > 0
          ? { histogram: packHistogram(histogram), maxNs: Math.max(...times) }
          : null,
    },
    { event: "finished", repeat: 0 },
    { event: "ended", status: "done", reason: null },
  );
}

const tenths = fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 1, maxLength: 60 });
const times = fc.array(fc.integer({ min: 1, max: 5e9 }), { minLength: 1, maxLength: 40 });
const read = (text: string) => RunsFile.parse(runsOfLines(text)).measurements;

describe("a run file in lines", () => {
  it("loses nothing, and its figures are those that Nerrit would have worked out", () => {
    fc.assert(
      fc.property(tenths, times, (moved, ns) => {
        const [one] = read(whole(moved, ns));
        const [run] = one!.runs;
        expect(one).toMatchObject({ id: ID, rig: "Left port", status: "done", drill });
        expect(run!.samples).toHaveLength(moved.length);
        const [step] = run!.steps;
        const bytes = moved.reduce((sum, each) => sum + each * 4096, 0);
        expect(step).toMatchObject({ bytes, written: bytes, ms: moved.length * 100 });
        const moments = moved.map((each, i) => ({ ms: (i + 1) * 100, bytes: each * 4096 }));
        expect(step!.meanMBps).toBeCloseTo(headlineRate(moments), 9);
        // A bucket is no wider than a 64th of its time.
        expect(step!.write!.max).toBe(Math.max(...ns) / 1e3);
        const middle = ns.toSorted((a, b) => a - b)[Math.ceil(ns.length / 2) - 1]!;
        expect(Math.abs(step!.write!.p50 * 1e3 - middle)).toBeLessThanOrEqual(middle / 32 + 1);
      }),
    );
  });

  it("is read to its last whole line wherever it was cut off", () => {
    const text = whole([10, 20, 30, 40], [5000, 6000]);
    const begun = text.indexOf("started");
    for (let cut = text.indexOf("\n", begun) + 1; cut < text.length - 1; cut++) {
      const [one] = read(text.slice(0, cut));
      expect(["interrupted", "done"]).toContain(one!.status);
      expect(one!.runs).toHaveLength(1);
    }
    expect(read(text.slice(0, text.indexOf('"counted"')))[0]).toMatchObject({
      status: "interrupted",
      runs: [{ status: "interrupted", steps: [] }],
    });
  });

  it("is read as a trace, too", () => {
    expect(recordedTraces(whole([10, 20], [5000]))).toMatchObject([
      { name: expect.stringContaining("Left port"), samples: [{ bytes: 40960 }, { bytes: 81920 }] },
    ]);
  });

  it("is told from other files by its beginning", () => {
    expect(isLinesFile(`\uFEFF${whole([1], [1])}`)).toBe(true);
    for (const other of ["", "{}", '{"format":"nerrit-runs"}', "time,MB/s"])
      expect(isLinesFile(other)).toBe(false);
  });

  it.each<[string, string, RegExp]>([
    ["a version to come", fileOf({ ...head, version: 2 }), /line 1.*version/],
    ["a sample before any measurement", fileOf(head, started), /line 2 stands before/],
    [
      "a repeat that has not begun",
      fileOf(head, measuring, { ...counted, repeat: 3 }),
      /line 3: repeat 4 has not begun/,
    ],
    ["repeats out of turn", fileOf(head, measuring, started, started), /line 4: repeat 1/],
    [
      "a line of another kind",
      fileOf(head, measuring, { event: "no such thing" }, started),
      /line 3/,
    ],
    [
      "more than any drive moves",
      fileOf(head, measuring, started, { ...counted, written: 1e30 }),
      /written/,
    ],
    ["no JSON in between", `${fileOf(head, measuring)}{\n${fileOf(started)}`, /line 3 is no JSON/],
  ])("is refused with %s, and the line is named", (_, text, words) => {
    expect(() => runsOfLines(text)).toThrow(words);
  });
});
