import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { BriefMeasurement } from "../study/measurement";
import { answered } from "../testing/answered";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, statedRig } from "../testing/rigs";
import { allowedBy, groupByCause, kindOf } from "./cause-group";
import type { LetteredRig, MeasuredRig } from "./lettered-rig";

const study = { tolerance: 0.05, smallestEffect: 0.03 };
const answer = (rigs: Rig[], measurements: BriefMeasurement[]) =>
  answered(study, rigs, measurements, "read");

const boxed = (name: string, key: string, inside = "D1") =>
  rig(
    [port(), cable(undefined, "K5"), enclosure([], name), { ...drive(), id: inside, name: inside }],
    key,
  );

describe("rigs grouped by what their rates come from", () => {
  const rigs = [
    boxed("Serac", "a"),
    boxed("Till", "b"),
    boxed("Till", "c", "K6"),
    boxed("Serac", "d"),
  ];
  const rates = [1043, 590, 595, null];
  const told = answer(
    rigs,
    rigs.flatMap((one, i) => (rates[i] ? [measured(one, around(rates[i]))] : [])),
  );

  it("puts findings first, then what runs as designed, then what was not measured", () => {
    expect(
      told.groups.map(({ kind, rigs: own }) => [kind, own.map(({ letter }) => letter)]),
    ).toEqual([
      ["cause", ["B", "C"]],
      ["designed", ["A"]],
      ["unmeasured", ["D"]],
    ]);
  });

  it("says of a group what its rigs lose altogether, and how sure its cause is in each", () => {
    const [cause] = told.groups;
    const ceilings = cause!.rigs.map((one) => allowedBy(one, "read")!.ceiling);
    expect(cause!.lossMBps).toBeCloseTo(ceilings[0]! + ceilings[1]! - 590 - 595, 6);
    const chances = cause!.rigs.map(({ standing }) => standing!.likeliest!.probability);
    expect(cause!.certainty).toMatchObject({
      least: Math.min(...chances),
      most: Math.max(...chances),
    });
  });

  it("keeps every rig in one group", () => {
    const all = told.groups.flatMap((group) => group.rigs.map(({ letter }) => letter));
    expect(all.toSorted()).toEqual(["A", "B", "C", "D"]);
  });
});

describe("the group of a single rig", () => {
  const one = answer([statedRig(200, "s")], [measured(statedRig(200, "s"), around(196))]).rigs[0]!;
  const said = (probability: number, more: object = {}): LetteredRig => ({
    ...one,
    standing: {
      likeliest: {
        kind: "own-limit",
        at: { part: "x" },
        name: "x",
        subject: "the x hub",
        probability,
        others: 0,
        ...more,
      },
      second: { subject: "cable y", probability: (1 - probability) / 2 },
      settled: probability >= 0.95,
      parts: {},
    },
  });

  it.each([
    [0.97, {}, "cause"],
    [0.51, {}, "cause"],
    [0.49, {}, "open"],
    [0.9, { others: 2 }, "unseparated"],
    [0.9, { kind: "nothing", at: null }, "open"],
    [0.9, { kind: "as-designed", at: { ledger: "x" } }, "designed"],
    [0.4, { kind: "as-designed", at: { ledger: "x" } }, "open"],
    [0.85, { kind: "memory-answered", at: { condition: "memory" } }, "impossible"],
  ])("with a cause of %f %j is %s", (probability, more, kind) => {
    expect(kindOf(said(probability, more))).toBe(kind);
  });

  it("is told apart where a cause is shown in one rig and only likely in another", () => {
    const groups = groupByCause([said(0.97), { ...said(0.6), letter: "B" }], {
      direction: "read",
      small: false,
    });
    expect(groups.map(({ certainty }) => certainty!.degree).toSorted()).toEqual([
      "likely",
      "shown",
    ]);
    expect(new Set(groups.map(({ cause }) => cause)).size).toBe(1);
  });

  it("of very many that were not weighed is below or as designed by its ledger alone", () => {
    expect(kindOf({ ...one, standing: null })).toBe("designed");
    const slow = { ...(one as MeasuredRig), standing: null };
    expect(kindOf({ ...slow, finding: { ...slow.finding, kind: "below" } })).toBe("unweighed");
    expect(kindOf({ ...slow, finding: { ...slow.finding, kind: "above" } })).toBe("impossible");
  });
});
