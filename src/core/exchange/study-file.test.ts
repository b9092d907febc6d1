import fc from "fast-check";
import { describe, expect, it } from "vitest";
import fs from "node:fs";
import path from "node:path";
import { answered } from "../testing/answered";
import { Origin } from "../study/measurement";
import { readStudy, packStudy, FileProblem } from "./study-archive";
import { StudyFile, studyFileSchema, studyOf, type StudyFileInput } from "./study-file";

const small = (runs: StudyFileInput["runs"] = []): StudyFileInput => ({
  format: "nerrit-study",
  version: 1,
  title: "By hand",
  parts: [
    {
      id: "port",
      kind: "host-port",
      name: "Port",
      connectors: [{ side: "down", modes: ["usb-5g", "usb-10g"] }],
    },
    {
      id: "box",
      kind: "enclosure",
      name: "Box",
      connectors: [
        { side: "up", modes: ["usb-5g", "usb-10g"] },
        { side: "down", modes: ["pcie-3.0-x2"] },
      ],
    },
    {
      id: "drive",
      kind: "drive",
      name: "Drive",
      connectors: [{ side: "up", modes: ["pcie-3.0-x2"] }],
    },
  ],
  rigs: [{ id: "B", name: "the rig", partIds: ["port", "box", "drive"] }],
  runs,
});
const read = (file: unknown) => StudyFile.parse(file);
const text = (file: unknown) => new TextEncoder().encode(JSON.stringify(file));
const runsOf = (...runs: NonNullable<StudyFileInput["runs"]>) =>
  studyOf(read(small(runs))).measurements;

describe("the smallest form of a study", () => {
  it("takes rates as repeats, typed in", () => {
    const [only] = runsOf({
      rigId: "B",
      drill: { name: "haul", direction: "read" },
      ratesMBps: [452, 449, 455],
    });
    expect(only!.origin).toBe("typed");
    expect(only!.runs.map(({ result }) => result!.meanMBps)).toEqual([452, 449, 455]);
    expect(only!.drill).toMatchObject({ name: "haul", depth: 16 });
  });

  it("takes requests a second, bytes in a time, and a Long fill as what it sustained", () => {
    const [fill, copy, scatter] = runsOf(
      { rigId: "B", drill: { name: "scatter", direction: "read" }, iops: [80_000] },
      { rigId: "B", drill: { name: "ferry", direction: "write" }, bytes: 320e9, seconds: 400 },
      { rigId: "B", drill: { name: "long-fill", direction: "write" }, ratesMBps: [310] },
    );
    expect(scatter!.runs[0]!.result).toMatchObject({ iops: 80_000, meanMBps: 327.68 });
    expect(scatter!.drill.depth).toBe(24);
    expect(copy!.runs[0]!.result!.meanMBps).toBe(800);
    expect(fill!.runs[0]!.steps[0]!.sustainedMBps).toBe(310);
  });

  it("takes a single figure by itself", () => {
    const drill = { name: "scatter", direction: "read" } as const;
    const [rate, requests] = runsOf(
      { rigId: "B", drill, iops: 1000 },
      { rigId: "B", drill, ratesMBps: 4.096 },
    ).map(({ runs }) => runs.map(({ result }) => result!.iops));
    expect(rate).toEqual([1000]);
    expect(requests).toEqual([1000]);
  });

  it("answers as any study does, and keeps what was simulated apart", () => {
    const drill = { name: "haul", direction: "read" } as const;
    const { study, rigs, measurements } = studyOf(
      read(
        small([
          { rigId: "B", drill, ratesMBps: [1050, 1052, 1049] },
          { rigId: "B", drill, ratesMBps: [90], simulated: true },
          { rigId: "B", drill, ratesMBps: [7000], conditions: { io: "buffered" } },
        ]),
      ),
    );
    const answer = answered(study, rigs, measurements.slice(1), "read");
    expect(answer.rigs[0]!.observation!.repeats.values).toEqual([1050, 1052, 1049]);
    expect(answer.rigs[0]!.finding!.kind).toBe("at bottleneck");
    const buffered = answered(study, rigs, measurements.slice(0, 1), "read");
    expect(buffered.rigs[0]!.observation!.doubtful).toBe(true);
  });

  it("is what docs/formats.md shows", () => {
    const page = fs.readFileSync(
      path.join(import.meta.dirname, "../../../docs/formats.md"),
      "utf8",
    );
    const [, example] = /<!-- study-example -->\s*```json\n([\s\S]*?)```/.exec(page)!;
    const { rigs, measurements } = studyOf(read(JSON.parse(example!)));
    expect(rigs.length).toBeGreaterThan(1);
    expect(measurements.length).toBeGreaterThan(1);
  });

  it.each<[string, (file: Record<string, unknown> & ReturnType<typeof small>) => unknown, RegExp]>([
    ["another format", (f) => ({ ...f, format: "x" }), /no file of a study/],
    ["a later version", (f) => ({ ...f, version: 2 }), /does not know/],
    [
      "an unknown part",
      (f) => ({ ...f, rigs: [{ ...f.rigs[0], partIds: ["port", "none"] }] }),
      /no part "none"/,
    ],
    [
      "an unknown rig",
      (f) => ({
        ...f,
        runs: [{ rigId: "Z", drill: { name: "haul", direction: "read" }, ratesMBps: [1] }],
      }),
      /no rig "Z"/,
    ],
    ["a part twice", (f) => ({ ...f, parts: [...f.parts, f.parts[0]] }), /stands for two parts/],
    [
      "no figure",
      (f) => ({ ...f, runs: [{ rigId: "B", drill: { name: "haul", direction: "read" } }] }),
      /in one way/,
    ],
    [
      "two figures",
      (f) => ({
        ...f,
        runs: [
          { rigId: "B", drill: { name: "haul", direction: "read" }, ratesMBps: [1], iops: [2] },
        ],
      }),
      /in one way/,
    ],
    [
      "bytes alone",
      (f) => ({
        ...f,
        runs: [{ rigId: "B", drill: { name: "haul", direction: "read" }, bytes: 1 }],
      }),
      /without seconds/,
    ],
    [
      "no such drill",
      (f) => ({
        ...f,
        runs: [{ rigId: "B", drill: { name: "dig", direction: "read" }, ratesMBps: [1] }],
      }),
      /not one of the drills/,
    ],
    [
      "parts that do not link",
      (f) => ({ ...f, rigs: [{ ...f.rigs[0], partIds: ["port", "drive"] }] }),
      /will not link/,
    ],
  ])("refuses %s", (_, change, words) => {
    const made = StudyFile.safeParse(change(small() as never));
    expect(made.success).toBe(false);
    expect(made.error!.issues.map(({ message }) => message).join("; ")).toMatch(words);
  });

  it("has a published schema", () => {
    const published = path.join(import.meta.dirname, "../../../docs/study.schema.json");
    expect(JSON.parse(fs.readFileSync(published, "utf8"))).toEqual(studyFileSchema());
  });

  it("is the same after it was filled in, written and read again", () => {
    const rate = fc.double({ min: 0.001, max: 1e6, noNaN: true });
    const run = fc.record(
      {
        rigId: fc.constant("B"),
        drill: fc.constantFrom(
          { name: "haul", direction: "read" as const, depth: 3 },
          { name: "long-fill", direction: "write" as const },
          { name: "scatter", direction: "mixed" as const, block: 8192 },
        ),
        ratesMBps: fc.array(rate, { minLength: 1, maxLength: 5 }),
        origin: fc.constantFrom(...Origin.options),
        warmUp: fc.boolean(),
        createdAt: fc
          .date({ min: new Date(0), max: new Date(4e12), noInvalidDate: true })
          .map((at) => at.toISOString()),
        conditions: fc.record({
          io: fc.constantFrom("direct" as const, "buffered" as const, null),
        }),
        stated: fc.record({ ambientCelsius: fc.integer({ min: -40, max: 80 }) }),
      },
      { requiredKeys: ["rigId", "drill", "ratesMBps"] },
    );
    fc.assert(
      fc.property(fc.array(run, { maxLength: 6 }), fc.string({ maxLength: 60 }), (runs, notes) => {
        const first = StudyFile.safeParse({ ...small(runs), notes });
        if (!first.success) return;
        const again = read(JSON.parse(JSON.stringify(first.data)));
        expect(again).toEqual(JSON.parse(JSON.stringify(first.data)));
        expect(studyOf(again).measurements).toEqual(studyOf(first.data).measurements);
      }),
      { numRuns: 60 },
    );
  });
});

/** A study with a trace of so many samples. */
const traced = (n: number, seed: number): StudyFileInput => {
  const samples = Array.from(
    { length: n },
    (_, i): [number, number, number, number, number, number, number] => [
      ...([i * 100, (i + 1) * 100, 4096 * (i + seed), 0, i + seed, 0, 0] as const),
    ],
  );
  return small([
    {
      rigId: "B",
      drill: { name: "haul", direction: "read" },
      runs: [
        { status: "done", startedAt: "2026-03-01T10:00:00.000Z", steps: [stepLike(n)], samples },
      ],
    },
  ]);
};
const stepLike = (n: number) => ({
  label: {},
  kind: "flow" as const,
  meanMBps: n,
  bytes: n,
  written: 0,
  ms: n,
  requests: n,
  read: null,
  write: null,
  latencyUs: { p50: 1, p95: 1, p99: 1, p999: 1, p9999: null, max: 1 },
  deviceBytes: null,
  flushMs: null,
  processorUsPerRequest: 0,
  busiestCore: null,
  burstMBps: n,
  sustainedMBps: n,
  edgeBytes: null,
  steady: null,
  targets: [],
  copy: null,
  faults: [],
  moreFaults: 0,
});

describe("an archive of a study", () => {
  it("holds the document and a CSV for each trace, and is read as the document is", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 300 }), fc.nat(1000), (n, seed) => {
        const file = traced(n, seed);
        expect(readStudy(packStudy(file as never))).toEqual(JSON.parse(JSON.stringify(file)));
      }),
      { numRuns: 20 },
    );
  });

  it("is not written where it could not be read again", () => {
    const file = traced(200, 1) as never;
    const { length } = new TextEncoder().encode(JSON.stringify(file));
    expect(() => packStudy(file, length / 4)).toThrow(/comes to/);
    expect(() => packStudy(file, 2 * length)).not.toThrow();
  });

  it("is refused where it holds what is no part of a study, or too much", async () => {
    const { zipSync, strToU8 } = await import("fflate");
    const refused = (files: Record<string, Uint8Array>) => () => readStudy(zipSync(files));
    expect(refused({ "../evil": strToU8("x") })).toThrow(/no part of a study/);
    expect(refused({ "traces/../../x.csv": strToU8("x") })).toThrow(/no part of a study/);
    expect(refused({ "traces/1-1.csv": strToU8("x") })).toThrow(/holds no study.json/);
    const bomb = zipSync({ "study.json": new Uint8Array(2 ** 21) });
    expect(() => readStudy(bomb, 2 ** 20)).toThrow(/unpacks to more than 1 MiB/);
    const cut = packStudy(traced(10, 1) as never);
    expect(() => readStudy(cut.slice(0, cut.length / 2))).toThrow(FileProblem);
  });

  it("names the line and the column of a trace that makes no sense", async () => {
    const { zipSync, unzipSync, strFromU8, strToU8 } = await import("fflate");
    const files = unzipSync(packStudy(traced(3, 1) as never));
    const csv = strFromU8(files["traces/1-1.csv"]!).replace(/\r\n200,/, "\r\nlate,");
    expect(() => readStudy(zipSync({ ...files, "traces/1-1.csv": strToU8(csv) }))).toThrow(
      /traces\/1-1.csv, line 4, from_ms: must be a number/,
    );
  });
});

describe("a mutilated file", () => {
  it("that was cut off is refused with line and column", () => {
    const whole = JSON.stringify(small(), null, 2);
    for (let n = 1; n < whole.length - 1; n += 37) {
      expect(() => readStudy(new TextEncoder().encode(whole.slice(0, n)))).toThrow(
        /^Line \d+, column \d+/,
      );
    }
  });

  it.each([
    ["seconds,rate\n1,2", 1, 1],
    ['{\n  "a": 1,\n  "b": x\n}', 3, 8],
    ['{ "a": 1 } more', 1, 12],
  ])("%j is wrong in line %i, column %i", (text, line, column) => {
    const read = () => readStudy(new TextEncoder().encode(text));
    expect(read).toThrow(`Line ${line}, column ${column}: this is no JSON`);
  });

  it("is refused, whatever is changed in it, or is still a study", () => {
    const odd = fc.oneof(
      fc.constantFrom(null, [], {}, "", "x".repeat(5000), -1, 1e308, NaN, [[[[]]]]),
      fc.jsonValue(),
    );
    fc.assert(
      fc.property(odd, fc.nat(), fc.nat(), (value, a, b) => {
        const file = JSON.parse(
          JSON.stringify(
            small([{ rigId: "B", drill: { name: "haul", direction: "read" }, ratesMBps: [4] }]),
          ),
        );
        const spots: [Record<string, unknown>, string][] = [];
        const walk = (node: unknown) => {
          if (typeof node !== "object" || node === null) return;
          for (const key of Object.keys(node)) {
            spots.push([node as Record<string, unknown>, key]);
            walk((node as Record<string, unknown>)[key]);
          }
        };
        walk(file);
        const [node, key] = spots[(a * 31 + b) % spots.length]!;
        node[key] = value;
        let known: unknown;
        try {
          known = readStudy(text(file));
        } catch (error) {
          expect(error).toBeInstanceOf(FileProblem);
          return;
        }
        const made = StudyFile.safeParse(known);
        if (made.success) studyOf(made.data);
        else for (const { path: at } of made.error.issues) expect(at.length).toBeLessThan(12);
      }),
      { numRuns: 1000 },
    );
  });

  it("that is nested too deep is refused, and brings nothing down", () => {
    const deep = new TextEncoder().encode(`${"[".repeat(200_000)}${"]".repeat(200_000)}`);
    let outcome: unknown;
    try {
      outcome = StudyFile.safeParse(readStudy(deep)).success;
    } catch (error) {
      outcome = error instanceof FileProblem || error instanceof RangeError ? false : error;
    }
    expect(outcome).toBe(false);
  });
});
