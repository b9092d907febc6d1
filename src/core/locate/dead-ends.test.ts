import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { observationsOf, type BriefMeasurement, type Measurement } from "../study/measurement";
import { outcomesOf } from "../study/outcome";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { boxesIn } from "./observations/boxes";
import { deadEnds } from "./dead-ends";

const [grey, blue] = [cable(undefined, "Grey"), cable(undefined, "Blue")];
const [box, other] = [enclosure([], "box"), enclosure([], "other")];
const disk = drive();
const through = (name: string, ...parts: Rig["parts"]) => rig([port(), ...parts, disk], name);
const dead = (of: Rig, outcome = "drops-off", words = ""): Measurement => ({
  ...measured(of, [null]),
  origin: "typed",
  status: "failed",
  reason: words,
  drill: { name: "outcome", direction: "mixed", repeats: 1, outcome } as never,
});
const ends = (rigs: Rig[], all: BriefMeasurement[]) =>
  deadEnds(outcomesOf(all, rigs), observationsOf(all));

describe("a rig that does not work", () => {
  const a = through("a", grey, box);
  const b = through("b", blue, box);
  const c = through("c", grey, other);

  it("counts as no run, and says in the tester's words what happens", () => {
    const all = [dead(a, "not-mountable", "asks to be formatted")];
    expect(observationsOf(all)).toEqual([]);
    expect(outcomesOf(all, [a])).toMatchObject([
      { kind: "not-mountable", words: "asks to be formatted" },
    ]);
    // A rig that was changed since is another.
    expect(outcomesOf(all, [{ ...a, parts: b.parts }])).toEqual([]);
  });

  it("has everything in it as a suspect, and what works elsewhere no more", () => {
    const [alone] = ends([a], [dead(a)]);
    expect(alone!.suspects.length).toBeGreaterThan(4);
    expect(alone!.suspects.reduce((sum, one) => sum + one.probability, 0)).toBeCloseTo(1, 9);
    const [found] = ends([a, b], [dead(a), measured(b, around(900))]);
    expect(found!.suspects[0]).toMatchObject({ parts: [{ name: "Grey" }] });
    const names = found!.suspects
      .filter(({ parts }) => parts.length === 1)
      .map(({ parts }) => parts[0]!.name);
    expect(names).toEqual(["Grey"]);
    expect(found!.suspects[0]!.probability).toBeGreaterThan(0.5);
    expect(found!.next).toMatchObject({
      like: { id: "b" },
      parts: ["port", "Grey", "box", "drive"],
    });
  });

  it("is put down to what several have in common", () => {
    const [one, two] = ends([a, b, c], [dead(a), dead(c), measured(b, around(900))]);
    for (const end of [one!, two!])
      expect(end.suspects[0]).toMatchObject({ parts: [{ name: "Grey" }] });
    expect(one!.suspects[0]!.probability).toBeGreaterThan(0.7);
  });

  it("leaves the pair where each of two parts works elsewhere", () => {
    const all = [dead(a), measured(b, around(900)), measured(c, around(900))];
    const [found] = ends([a, b, c], all);
    expect(found!.suspects.map(({ parts }) => parts.map(({ name }) => name))).toEqual([
      ["Grey", "box"],
    ]);
  });

  it("clears nobody by what was measured before it dropped off", () => {
    const [found] = ends([a], [dead(a), measured(a, around(900))]);
    expect(found!.suspects.length).toBeGreaterThan(4);
  });

  it("stands in the grid of bays, and points at the bay", () => {
    const inBay = (bay: string, name: string): Rig => ({
      ...rig([port(), grey, box, drive(undefined, name)], `${name} in ${bay}`),
      bay,
    });
    const [d1, d2, d3] = [inBay("1", "one"), inBay("2", "one"), inBay("2", "two")];
    const all = [measured(d1, around(500)), dead(d2, "not-recognised"), dead(d3, "not-recognised")];
    const rigs = [d1, d2, d3];
    const [grid] = boxesIn(observationsOf(all), outcomesOf(all, rigs));
    expect(grid!.cells[0]!.map((cell) => cell?.mbps ?? cell?.fails)).toEqual([
      500,
      "is not recognised",
    ]);
    expect(grid!.points).toMatch(/Bay 2 .*does not work/);
  });
});
