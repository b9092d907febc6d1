import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { BriefMeasurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, port, rig } from "../testing/rigs";
import { box, judge, peak, wide } from "./testing/judging";

describe("a drill with other requests than another", () => {
  const disk = {
    ...drive({}),
    claims: [{ kind: "iops", direction: "read", iops: 90_000 } as const],
  };
  const own = rig([port(), cable(), wide, disk], "own");
  const other = rig([port(), cable(), wide, drive({}, "other")], "other");
  const scatter = (through: Rig, iops: number, set: object = {}) => {
    const { block = 4096 } = set as { block?: number };
    return measured(through, around((iops * block) / 1e6), { drill: { name: "scatter", ...set } });
  };
  const kindOf = (runs: BriefMeasurement[]) => judge([own, other], runs)[0]!;

  it("shows a claim of small requests kept, in whatever order they were made", () => {
    const [deep, one] = [scatter(own, 92_000), scatter(own, 11_000, { depth: 1 })];
    expect(kindOf([deep, one]).kind).toBe("Delivers");
    expect(kindOf([one, deep]).kind).toBe("Delivers");
  });

  it("is taken from repeats rather than from one run that was a little faster", () => {
    const once = measured(own, [(93_000 * 4096) / 1e6], {
      drill: { name: "scatter", seconds: 60 },
    });
    const often = scatter(own, 92_000);
    expect(kindOf([once, often]).kind).toBe("Delivers");
    expect(kindOf([often, once]).kind).toBe("Delivers");
  });

  it("convicts nobody who was asked for less at a time than the others", () => {
    const control = scatter(other, 120_000);
    expect(kindOf([scatter(own, 41_000), control]).kind).toBe("Falls short in this combination");
    const shallow = kindOf([scatter(own, 11_000, { depth: 1 }), control]);
    expect(shallow.kind).toBe("Can't tell yet");
    expect(shallow.settle[0]!.ask).toMatchObject({ rig: { like: own.id }, drill: "scatter" });
    // Another that reaches it one at a time shows that one at a time suffices.
    const at1 = scatter(other, 120_000, { depth: 1 });
    expect(kindOf([scatter(own, 41_000), at1]).kind).toBe("Falls short in this combination");
  });

  it("counts requests, not bytes: larger ones keep a claim, and break none", () => {
    const large = (iops: number) => scatter(own, iops, { block: 16_384 });
    expect(kindOf([large(95_000)]).kind).toBe("Delivers");
    const few = kindOf([large(15_000), scatter(other, 120_000)]);
    expect(few.kind).toBe("Can't tell yet");
    expect(few.reasons.join()).toMatch(/15.000 requests a second.*larger requests/);
    // Smaller ones say nothing of it, fast as they may be.
    expect(kindOf([scatter(own, 200_000, { block: 512 })]).kind).toBe("Can't tell yet");
  });

  it("does not accuse an enclosure that was measured with one request at a time", () => {
    const B = box("B", [peak(1000)]);
    const [there, control] = [
      rig([port(), cable(), B, drive()], "there"),
      rig([port(), cable(), wide, drive()], "control"),
    ];
    const runs = [
      measured(there, around(700), { drill: { name: "haul", depth: 1 } }),
      measured(control, around(1900)),
    ];
    expect(judge([there, control], runs)[0]!.kind).toBe("Can't tell yet");
    const deep = measured(there, around(1010));
    expect(judge([there, control], [...runs, deep])[0]!.kind).toBe("Delivers");
    expect(judge([there, control], [deep, ...runs])[0]!.kind).toBe("Delivers");
  });
});
