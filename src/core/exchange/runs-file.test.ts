import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { blankStep } from "../drills/step";
import type { Sample } from "../drills/result";
import { UNSAID } from "../study/stated";
import { rowOf, runsFile, RunsFile, sampleOf, type Recorded } from "./runs-file";

const recorded = (more: Partial<Recorded> = {}): Recorded => ({
  id: "0b2f6b0e-6f0f-4d2c-9a33-0d6f0e7f2a11",
  rig: "Straight",
  origin: "measured",
  drill: usualDrill("haul", "read"),
  targets: ["/media/moraine"],
  status: "done",
  reason: null,
  createdAt: "2026-03-01T10:00:00.000Z",
  warmUp: false,
  stated: UNSAID,
  conditions: null,
  runs: [
    {
      status: "done",
      startedAt: "2026-03-01T10:00:01.000Z",
      steps: [{ ...blankStep("flow", {}), meanMBps: 400, bytes: 4e8, ms: 1000 }],
      samples: [[0, 1000, 4e8, 0, 100, 0, 0]],
      events: [],
      readings: [],
      errors: [],
    },
  ],
  ...more,
});
const read = (text: string) => RunsFile.safeParse(JSON.parse(text));
const whyNot = (measurement: object) => {
  const parsed = RunsFile.safeParse({
    format: "nerrit-runs",
    version: 1,
    measurements: [measurement],
  });
  return parsed.success ? null : parsed.error.issues[0]!;
};

describe("a file of runs", () => {
  it("comes back as it went out", () => {
    const measurements = [recorded(), recorded({ origin: "watched", warmUp: true })];
    expect(read(runsFile(measurements)).data!.measurements).toEqual(measurements);
  });

  it("keeps every sample", () => {
    const sample = fc.record<Sample>({
      from: fc.nat(),
      ms: fc.nat(),
      bytes: fc.nat(),
      written: fc.nat(),
      requests: fc.nat(),
      step: fc.nat(100),
      target: fc.nat(31),
    });
    fc.assert(
      fc.property(sample, (one) => {
        expect(sampleOf(rowOf(one))).toEqual(one);
      }),
    );
  });

  it("says what it is not, and what is wrong in which run", () => {
    expect(read('{"format":"nerrit-shelf","version":1,"parts":[]}').success).toBe(false);
    expect(
      whyNot(recorded({ drill: { ...usualDrill("haul", "read"), name: "sprint" } }))!.message,
    ).toMatch(/no drill "sprint"/);
    const [run] = recorded().runs;
    const bad = (row: number[]) => whyNot({ ...recorded(), runs: [{ ...run, samples: [row] }] });
    for (const row of [
      [5, 4, 1, 0, 1, 0, 0],
      [0, 1, 1, 2, 1, 0, 0],
      [0, 1, -1, 0, 1, 0, 0],
      [0, 1, 1.5, 0, 1, 0, 0],
      [0, 1, 1, 0, 1, 0],
    ])
      expect(bad(row)!.path.slice(0, 5)).toEqual(["measurements", 0, "runs", 0, "samples"]);
    expect(whyNot({ ...recorded(), runs: [] })!.message).toBe("has no run");
    expect(whyNot({ ...recorded(), runs: [{ ...run, steps: [] }] })!.message).toMatch(/no step/);
    expect(whyNot({ ...recorded(), status: "running" })).not.toBeNull();
  });
});
