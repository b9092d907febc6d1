import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { columnsOf } from "./column";
import { questionFrom } from "./question";

const [a, b] = ["a", "b"].map((id) => rig([port(), cable(), enclosure(), drive()], id)) as [
  ReturnType<typeof rig>,
  ReturnType<typeof rig>,
];
const haul = (more: Record<string, unknown> = {}, direction: "read" | "write" = "read") =>
  usualDrill("haul", direction, more);
const all = questionFrom({});

describe("the columns of a comparison", () => {
  it("are one for settings that no rig was measured by twice", () => {
    const columns = columnsOf(all, [
      { rig: a, drill: haul() },
      { rig: b, drill: haul({ span: 2 ** 28 }) },
    ]);
    expect(columns).toHaveLength(1);
    expect(columns[0]!.keys).toHaveLength(2);
    expect(columns[0]!.title).toBe("Haul");
  });

  it("are one for each definition of which a rig has two, each with what differs in its title", () => {
    const columns = columnsOf(all, [
      { rig: a, drill: haul({ seconds: 10 }) },
      { rig: a, drill: haul({ seconds: 60 }) },
      { rig: b, drill: haul({ seconds: 60 }) },
    ]);
    expect(columns.map(({ title }) => title)).toEqual([
      expect.stringMatching(/^Haul, 60 s/),
      expect.stringMatching(/^Haul, 10 s/),
    ]);
    expect(new Set(columns.map(({ what }) => what)).size).toBe(1);
  });

  it("are apart by their requests, small before large, and by direction", () => {
    const columns = columnsOf(all, [
      { rig: a, drill: haul({ depth: 16 }) },
      { rig: b, drill: haul({ depth: 2 }) },
      { rig: b, drill: haul({}, "write") },
    ]);
    expect(columns.map(({ depth, direction }) => [depth, direction])).toEqual([
      [2, "read"],
      [16, "read"],
      [16, "write"],
    ]);
  });

  it("are those alone that are asked for", () => {
    const seen = [
      { rig: a, drill: haul() },
      { rig: a, drill: usualDrill("scatter", "read") },
      { rig: a, drill: haul({}, "write") },
    ];
    const asked = columnsOf(questionFrom({ drill: "haul", direction: "write" }), seen);
    expect(asked.map(({ drill, direction }) => [drill, direction])).toEqual([["haul", "write"]]);
  });
});
