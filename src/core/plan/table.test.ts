import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { briefResultOf } from "../testing/measured";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import type { PlanStep, StepState } from "./plan";
import { planTable } from "./table";

const rigs = ["a", "b"].map((id) => rig([port(), cable(), enclosure(), drive()], id));
const plan = {
  rigs: rigs.map(({ id }) => ({ rigId: id, target: `/mnt/${id}` })),
  drills: [usualDrill("haul", "read"), usualDrill("scatter", "read")],
};
const step = (
  rigId: string,
  drill: number,
  state: StepState,
  more: Partial<PlanStep> = {},
): PlanStep => ({
  id: `${rigId}${drill}${state}${more.repeat ?? 0}`,
  rigId,
  drill,
  repeat: 0,
  warmUp: false,
  state,
  measurementId: null,
  note: null,
  ...more,
});

describe("a plan as a table", () => {
  it("has a row for each rig and a cell for each drill, with how far they are", () => {
    const steps = [
      step("a", 0, "done", { measurementId: "m1" }),
      step("a", 0, "running", { repeat: 1 }),
      step("a", 0, "waiting", { repeat: 2 }),
      step("a", 1, "skipped"),
      step("a", 1, "failed", { repeat: 1 }),
      step("b", 0, "waiting"),
      step("b", 0, "done", { warmUp: true, measurementId: "w" }),
    ];
    const { rows } = planTable(plan, steps, rigs, (id) =>
      id === "m1" ? [briefResultOf(1000)] : [],
    );
    expect(rows.map(({ rigId }) => rigId)).toEqual(["a", "b"]);
    const [haul, scatter] = rows[0]!.cells;
    expect(haul).toMatchObject({ done: 1, of: 3, isRunning: true, median: 1000, spread: null });
    expect(haul!.share).toBeGreaterThan(0.8);
    expect(scatter).toMatchObject({ done: 0, of: 1, failed: 1, median: null });
    // A run to warm up counts for nothing.
    expect(rows[1]!.cells[0]).toMatchObject({ done: 0, of: 1, median: null });
  });

  it("counts small requests, and marks what memory answered", () => {
    const steps = [1, 2].map((repeat) =>
      step("a", 1, "done", { repeat, measurementId: `m${repeat}` }),
    );
    const { rows } = planTable(plan, steps, rigs, (id) => [
      briefResultOf(40, { iops: id === "m1" ? 10_000 : 11_000, deviceBytes: 5e7 }),
    ]);
    expect(rows[0]!.cells[1]).toMatchObject({
      median: 10_500,
      counted: true,
      share: null,
      doubtful: true,
      measurementId: "m2",
    });
  });

  it("marks more than the links carry", () => {
    const steps = [step("a", 0, "done", { measurementId: "m1" })];
    const { rows } = planTable(plan, steps, rigs, () => [briefResultOf(7000)]);
    expect(rows[0]!.cells[0]).toMatchObject({ doubtful: true });
  });

  it("says each warning once, with its runs and rigs, the most frequent first", () => {
    const steps = [
      step("a", 0, "done", { note: "The drive is warm. A core was busy for 92 % of 1 s." }),
      step("a", 0, "failed", { repeat: 1, note: "The drive is gone." }),
      step("b", 0, "done", { note: "The drive is warm. A core was busy for 8 % of 2 s." }),
    ];
    expect(planTable(plan, steps, rigs, () => []).notes).toEqual([
      { text: "The drive is warm.", runs: 2, rigIds: ["a", "b"] },
      { text: "A core was busy for 92 % of 1 s.", runs: 2, rigIds: ["a", "b"] },
      { text: "The drive is gone.", runs: 1, rigIds: ["a"] },
    ]);
  });
});
