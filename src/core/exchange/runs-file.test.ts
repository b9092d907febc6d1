import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { blankStep } from "../run/step";
import type { Sample } from "../run/result";
import { UNSAID } from "../run/stated";
import { packSamples, unpackSamples } from "../trace/pack";
import { MOST_MS } from "../units/bounds";
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

  it("that was taken in can be kept, written out and taken in again, whatever numbers are in it", () => {
    const beyond = [Infinity, -1, 1e308, 2 ** 64, 9e15, 2 ** 53, MOST_MS, 0.001, 1e-300, 5];
    const number = fc.oneof(
      { weight: 1, arbitrary: fc.constantFrom(...beyond) },
      { weight: 1, arbitrary: fc.double({ noNaN: true }) },
      { weight: 12, arbitrary: fc.nat(1000) },
    );
    const whole = fc.oneof(fc.nat(), fc.constantFrom(2 ** 53 - 1, 0));
    const usual = fc
      .tuple(fc.double({ min: 0, max: MOST_MS, noNaN: true }), fc.nat(), whole, fc.boolean(), whole)
      .map(([from, long, bytes, writes, requests]) => [
        from,
        Math.min(MOST_MS, from + long),
        bytes,
        writes ? bytes : 0,
        requests,
        fc.sample(fc.nat(10_000), { numRuns: 1, seed: bytes })[0]!,
        0,
      ]);
    const wild = fc.tuple(number, number, number, number, number, number, number);
    const row = fc.oneof({ weight: 9, arbitrary: usual }, { weight: 1, arbitrary: wild });
    const step = fc.record({ meanMBps: number, ms: number, bytes: number, burstMBps: number });
    const [run] = recorded().runs;
    let taken = 0;
    fc.assert(
      fc.property(fc.array(row, { maxLength: 3 }), step, number, (samples, figures, ms) => {
        const reading = { ms, engine: null, machine: null, celsius: { drive: ms } };
        const one = {
          ...run!,
          samples,
          readings: [reading],
          steps: [{ ...blankStep("flow", {}), ...figures }],
        };
        const file = {
          format: "nerrit-runs",
          version: 1,
          measurements: [recorded({ runs: [one as never] })],
        };
        const parsed = RunsFile.safeParse(JSON.parse(JSON.stringify(file)));
        if (!parsed.success) return;
        taken += 1;
        const { measurements } = parsed.data;
        const kept = unpackSamples(packSamples(measurements[0]!.runs[0]!.samples.map(sampleOf)));
        const again = read(
          runsFile([
            recorded({ runs: [{ ...measurements[0]!.runs[0]!, samples: kept.map(rowOf) }] }),
          ]),
        );
        expect(again.error?.issues ?? []).toEqual([]);
        // Times are kept to a hundredth of a millisecond.
        again.data!.measurements[0]!.runs[0]!.samples.forEach(([from, end, ...rest], i) => {
          const was = samples[i]!;
          expect(Math.abs(from - was[0])).toBeLessThan(0.0051 + was[0] * 1e-15);
          expect(Math.abs(end - was[1])).toBeLessThan(0.0051 + was[1] * 1e-15);
          expect(rest).toEqual(was.slice(2));
        });
      }),
      { numRuns: 400 },
    );
    expect(taken).toBeGreaterThan(40);
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
