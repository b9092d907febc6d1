import { describe, expect, it } from "vitest";
import { conclude } from "../conclude/conclusions";
import type { Conditions } from "../run/result";
import type { Measurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_5G } from "../testing/rigs";
import { IN_MB } from "../units/number";
import { answerFor } from "./study";
import { toldRun } from "./told-run";

const box = enclosure([], "Serac");
const a = rig([port(), cable(undefined, "K5"), box, drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), box, drive()], "b");

/** What is told of the first of some measurements. */
function told(...measurements: [Measurement, ...Measurement[]]) {
  const [first] = measurements;
  const conclusions = conclude({ rigs: [a, b], measurements, tolerance: 0.05 });
  const { name, direction } = first.drill;
  const answer = answerFor(conclusions, direction as "read", { drill: name });
  return toldRun(first, answer, conclusions, IN_MB);
}

describe("what a finished run came to", () => {
  it("is its median, its share of the ceiling, its spread and what limits it", () => {
    const one = told(measured(a, [1040, 1043, 1046]), measured(b, around(447)))!;
    expect(one).toMatchObject({ median: 1043, counted: false, repeats: 3, cautions: [] });
    expect(one.share).toBeCloseTo(1043 / one.ceiling!, 9);
    expect(one.spread).toBeGreaterThan(0);
    expect(one.cause).toMatch(/^As expected: the Serac enclosure \(10 Gb\/s\) limits rig A/);
  });

  it("has no spread of a single repeat", () => {
    expect(told(measured(a, [1043]))!.spread).toBeNull();
  });

  it("counts small requests, and holds them against no ceiling", () => {
    const result = { iops: 12_000 };
    const one = told(measured(a, around(49), { drill: { name: "scatter" }, result }))!;
    expect(one).toMatchObject({ median: 12_000, counted: true, ceiling: null, share: null });
  });

  it("says first that other programs spoiled it, and proposes to repeat it", () => {
    const conditions = { io: "direct", busiestCoreBefore: 1 } as Conditions;
    const one = told(measured(a, around(700), { conditions, result: { busiestCore: 1 } }))!;
    expect(one.cautions[0]).toMatch(/other programs/);
    expect(one.next!.text).toMatch(/^Repeat rig A/);
  });

  it("is nothing where no repeat counts", () => {
    expect(told(measured(a, [null]))).toBeNull();
  });
});
