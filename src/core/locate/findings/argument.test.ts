import { describe, expect, it } from "vitest";
import { evidenceOf } from "../../compare/comparison";
import { observationsOf, type BriefMeasurement, type Measurement } from "../../study/measurement";
import { around, measured } from "../../testing/measured";
import { cable, drive, enclosure, hub, port, rig, USB_10G } from "../../testing/rigs";
import { argumentOf } from "./argument";
import { findingOf, heldAgainst } from "./finding";
import { locate } from "../locate";
import { notCounted } from "../observations/not-counted";
import { USUAL_OPINION } from "../hypotheses/opinion";
import { standingOf } from "./standing";

const P = port(USB_10G);
const [K1, K2] = [cable(USB_10G, "K1"), cable(USB_10G, "K2")];
const [B, C] = [enclosure([], "B"), enclosure([], "C")];
const [D, E] = [drive({}, "D"), drive({}, "E")];
const through = (name: string, ...parts: Parameters<typeof rig>[0]) => rig([P, ...parts], name);
const slow = through("slow", K1, B, D);
const rigs = [
  slow,
  through("other cable", K2, B, D),
  through("other box", K1, C, D),
  through("far", hub(USB_10G), K2, C, E),
];
const rates = [400, 405, 402, 1010];
const runs = rigs.map((one, i) =>
  measured(one, around(rates[i]!), { createdAt: `2026-01-0${i + 1}` }),
);
const shelf = [P, K1, K2, B, C, D, E];
const seenOf = (all: BriefMeasurement[]) => observationsOf(all.toReversed());
const argue = (all = runs) => {
  const seen = seenOf(all);
  const times = new Map(all.map(({ id, createdAt }) => [id, createdAt]));
  return argumentOf(
    seen.find((one) => one.rig === slow)!,
    seen,
    { shelf, opinion: USUAL_OPINION },
    ({ measurementIds }) => times.get(measurementIds[0]!)!,
  );
};

describe("the argument about a rig", () => {
  it("begins with the rig alone, and goes on with each run that has a part in common", () => {
    const steps = argue();
    expect(steps.map(({ rig: { name } }) => name)).toEqual([
      "slow",
      "other cable",
      "other box",
      "far",
    ]);
    expect(steps[0]).toMatchObject({ before: null, differs: [], settled: false });
    expect(steps[1]!.differs).toHaveLength(1);
    expect(steps[1]!.before).toEqual(steps[0]!.after);
  });

  it("says what each run ruled out: the cable, then the enclosure", () => {
    const [, second, third] = argue();
    expect(second!.ruledOut).toContain("K1");
    expect(third!.ruledOut.some((name) => /^B/.test(name))).toBe(true);
  });

  it("ends where the page stands", () => {
    const now = locate(seenOf(runs), shelf, { of: (one) => one.rig === slow, next: false })[0]!;
    const last = argue().at(-1)!.located;
    expect(last.explanations).toEqual(now.explanations);
  });

  it("takes what was measured before the rig as known", () => {
    const early = runs.map((one, i) => ({
      ...one,
      createdAt: i === 1 ? "2025-12-31" : one.createdAt,
    }));
    const steps = argue(early);
    expect(steps.map(({ rig: { name } }) => name)).not.toContain("other cable");
    expect(steps[0]!.after.name).not.toBe("K1");
  });
});

describe("what does not count", () => {
  const why = (more: BriefMeasurement[], own = slow) => {
    const all = [...more, ...runs].toReversed();
    const seen = observationsOf(all);
    const mine = seen.find((one) => one.rig === own && one.drill.name === "haul")!;
    const used = seen.filter((one) => one.drill.name === "haul" && one.drill.direction === "read");
    return notCounted(mine, all, rigs, used).map((one) => one.why);
  };
  it.each<[string, Measurement, RegExp]>([
    ["a warm-up", measured(slow, around(400), { warmUp: true }), /warm up/],
    ["what was watched", measured(slow, around(400), { origin: "watched" }), /watched/],
    [
      "memory",
      measured(slow, around(900), { conditions: { io: "buffered" } as never }),
      /page cache/,
    ],
    ["a simulation", measured(slow, around(900), { origin: "simulated" }), /simulated/],
    [
      "another drill",
      measured(slow, around(40), { drill: { name: "scatter" } }),
      /another drill: Scatter/,
    ],
    [
      "the other direction",
      measured(slow, around(900), { direction: "write" }),
      /other direction: writing/,
    ],
    [
      "a rig that is gone",
      measured(through("gone", K1, B, E), around(900)),
      /taken out of the study/,
    ],
    ["what never finished", measured(slow, [null]), /never finished/],
  ])("is %s, with the reason", (_, run, reason) => expect(why([run]).join()).toMatch(reason));

  it("is, beside one rig alone, one that differs in several things", () => {
    expect(why([]).join()).toMatch(/several things at once/);
  });

  it("is little, of a single repeat, or of a drive that began warmer", () => {
    const once = measured(rigs[1]!, [405]);
    expect(why([{ ...once, drill: { ...once.drill, seconds: 5 } as never }]).join()).toMatch(
      /one repeat only/,
    );
  });

  it("is a run that the tester left out", () => {
    const left = measured(slow, around(300));
    left.runs[0]!.leftOut = "a phone call";
    expect(why([left]).join()).toMatch(/left out by the tester/);
  });
});

describe("how a rig stands", () => {
  const located = (all: BriefMeasurement[], name: string) =>
    locate(seenOf(all), shelf, { of: (one) => one.rig.name === name, next: false })[0]!;

  it("is told of every part where something holds it back, of none where nothing does", () => {
    const standing = standingOf(located(runs, "slow"));
    expect(standing.parts.port).toBe("cleared");
    for (const name of ["K1", "B", "D"]) expect(standing.parts[name]).not.toBe("cleared");
    const clean = standingOf(located([measured(slow, around(1040))], "slow"));
    expect(clean).toMatchObject({ settled: true, parts: {}, likeliest: { kind: "as-designed" } });
  });

  it("overrules a rate that only happens to lie where the bottleneck would let it", () => {
    const observed = observationsOf([measured(slow, around(1040))])[0]!.repeats;
    const finding = findingOf(slow, "read", observed)!;
    expect(finding.kind).toBe("at bottleneck");
    const other = { settled: true, parts: {}, likeliest: { kind: "fault", probability: 0.9 } };
    expect(heldAgainst(finding, slow, "read", observed, other as never).kind).toBe("below");
    expect(heldAgainst(finding, slow, "read", observed, null)).toBe(finding);
  });

  it("parts what ran in other modes, though the same items stand in both", () => {
    const dropped = {
      ...slow,
      id: "dropped",
      name: "dropped",
      settled: [{ partId: "B", mode: "usb-5g", by: "system" as const }],
    };
    const both = [measured(slow, around(1040)), measured(dropped, around(440))];
    expect(evidenceOf([slow, dropped], both).of.size).toBe(2);
    for (const name of ["slow", "dropped"])
      expect(located(both, name).explanations[0]!.kind).toBe("as-designed");
  });
});
