import { describe, expect, it } from "vitest";
import { foretoldRows, tellForetold } from "./foretold-rows";
import type { WorkShown } from "./works";

const row = (rigId: string, seconds: number) => ({
  letter: rigId.toUpperCase(),
  rigId,
  name: rigId,
  seconds,
  waitedSeconds: 1,
  n: 1,
  spread: null,
  ceiling: null,
  runIds: ["r"],
});
const work: WorkShown = {
  key: "build",
  name: "Build",
  how: "as fast as answers come",
  recordedSeconds: 10,
  rows: [row("a", 10), row("b", 20)],
};
const rigs = ["a", "b", "c", "d"].map((id) => ({ id, letter: id.toUpperCase(), name: id }));
const foretold = (rigId: string, ms: number, key = "build") => ({
  key,
  rigId,
  ms,
  waitedMs: 500,
  worst: 0.1,
});

describe("what ladders foretell of recorded work", () => {
  it("is told of rigs that it was not done on, with how far it was off where it was", () => {
    const all = [foretold("a", 10_500), foretold("b", 18_000), foretold("c", 30_000)];
    const { rows, off } = foretoldRows(work, [...all, foretold("d", 1, "another")], rigs);
    expect(rows).toEqual([{ letter: "C", name: "c", rigId: "c", seconds: 30, waitedSeconds: 0.5 }]);
    expect(off).toBeCloseTo(0.1, 9);
  });

  it("does not know how far it is off where nothing was both measured and foretold", () => {
    expect(foretoldRows(work, [foretold("c", 1)], rigs).off).toBeNull();
  });

  it("is said of work that no rig has done by the slowest and the quickest, or by what all take", () => {
    const undone = { ...work, rows: [] };
    const told = (...ms: number[]) => {
      const times = ms.map((one, i) => foretold(rigs[i]!.id, one));
      const { rows, off } = foretoldRows(undone, times, rigs);
      expect(off).toBeNull();
      return tellForetold("Build", rows);
    };
    expect(told(12_000, 41_000)).toMatch(/would take 41.* through B and 12.* through A, by their/);
    expect(told(12_000, 12_100)).toMatch(/about as long through every rig.*12\.0.*12\.1/);
    expect(told(12_000)).toMatch(/would take 12.* through A, by its ladders/);
  });
});
