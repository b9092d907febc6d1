import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Suite } from "../study/suite";
import { readSuite } from "./suite-table";

const RIGS = [
  { id: "one", letter: "A", name: "Serac" },
  { id: "two", letter: "B", name: "Nunatak, wide" },
];

describe("a suite's results, pasted", () => {
  it("are read with tests in rows, and rigs by letter or name", () => {
    const text =
      "Test\tB\tSerac\nOpen a project (s)\t12\t41,5\nSave (MB/s)\t455\t310\nOverall\t1.204\t988\n";
    const { rigIds, tests, problems } = readSuite(text, RIGS);
    expect(problems).toEqual([]);
    expect(rigIds).toEqual(["two", "one"]);
    expect(tests).toEqual([
      { name: "Open a project", unit: "s", isLessBetter: true, values: [12, 41.5] },
      { name: "Save", unit: "MB/s", isLessBetter: false, values: [455, 310] },
      { name: "Overall", unit: "points", isLessBetter: false, values: [1204, 988] },
    ]);
  });

  it("are read the other way round, with units behind figures", () => {
    const text = "rig;Build;Import\nrig A;2 min;1.5 GB/s\nB · Nunatak, wide;90 s;–\n";
    const { rigIds, tests, problems } = readSuite(text, RIGS);
    expect(problems).toEqual([]);
    expect(rigIds).toEqual(["one", "two"]);
    expect(tests).toEqual([
      { name: "Build", unit: "s", isLessBetter: true, values: [120, 90] },
      { name: "Import", unit: "MB/s", isLessBetter: false, values: [1500, null] },
    ]);
  });

  it("are read where the first cell is empty, as in most spreadsheets", () => {
    const { rigIds, tests } = readSuite("\n\tA\tB\nBuild (s)\t41\t12", RIGS);
    expect(rigIds).toEqual(["one", "two"]);
    expect(tests).toMatchObject([{ name: "Build", values: [41, 12] }]);
  });

  it("say by line and column what makes no sense, and keep the rest", () => {
    const { tests, problems } = readSuite(
      "Test\tA\tC\tA\nBuild\tfast\t1\t2\n\t3\t\t\nBuild\t2\n",
      RIGS,
    );
    expect(problems.map(({ line, column }) => [line, column])).toEqual([
      [1, 3],
      [1, 4],
      [2, 2],
      [3, 1],
      [4, 1],
    ]);
    expect(tests).toMatchObject([{ name: "Build", values: [null] }]);
    expect(readSuite("Build\t41", RIGS).problems).toHaveLength(1);
    expect(readSuite("Test\tC\nBuild\t41", RIGS).problems.at(-1)!.problem).toMatch(/no rig/);
  });

  it("are what a study takes, or say what is wrong, whatever is pasted", () => {
    const cell = fc.oneof(
      fc.constantFrom("A", "B", "rig A", "12", "1 200,5", "3 s", "(s)", "x (MB/s)", "", "-", "0"),
      fc.string({ maxLength: 8 }),
    );
    fc.assert(
      fc.property(fc.array(fc.array(cell, { maxLength: 5 }), { maxLength: 6 }), (rows) => {
        const { rigIds, tests, problems } = readSuite(
          rows.map((row) => row.join("\t")).join("\n"),
          RIGS,
        );
        const kept = Suite.safeParse({ name: "any", rigIds, tests });
        expect(kept.success || problems.length > 0 || tests.length === 0).toBe(true);
      }),
    );
  });

  it("takes the smaller figure for the better one of times, and where it is said", () => {
    const text = [
      "Test\tA\tB",
      "Delay (points, less is better)\t5\t4",
      "Stalls [lower is better]\t5\t4",
      "Score (points)\t5\t4",
      "Wait (ms)\t5\t4",
    ].join("\n");
    const { tests, problems } = readSuite(text, RIGS);
    expect(problems).toEqual([]);
    expect(tests.map(({ name, unit, isLessBetter }) => [name, unit, isLessBetter])).toEqual([
      ["Delay", "points", true],
      ["Stalls", "points", true],
      ["Score", "points", false],
      ["Wait", "s", true],
    ]);
  });
});
