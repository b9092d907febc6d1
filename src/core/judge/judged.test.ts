import { describe, expect, it } from "vitest";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { around, measured } from "../testing/measured";
import { cable, drive, port, rig, USB_20G, USB_5G } from "../testing/rigs";
import { copiesIn, tellCopies } from "./copies";
import { turnsOf } from "./history";
import { tellVerdicts } from "./tell";
import { box, judge, NOTHING, peak, wide } from "./testing/judging";

describe("all claims of all parts", () => {
  it("are held against the rigs that came nearest, however many slower ones stand beside", () => {
    const short = box("short", [peak(1000)]);
    const [good, own] = [
      rig([port(), cable(), wide, drive()], "good"),
      rig([port(), cable(), short, drive()], "own"),
    ];
    const many = Array.from({ length: 90 }, (_, i) =>
      rig([port(), cable(USB_5G, `lead ${i}`), short, drive()], `many ${i}`),
    );
    const runs = [measured(good, around(1900)), measured(own, around(700))];
    const slower = many.map((one, i) => measured(one, around(440 + (i % 5))));
    const [few] = judge([good, own], runs);
    const [all] = judge([good, ...many, own], [...slower, ...runs]);
    expect(few).toMatchObject({ kind: "Falls short in this combination", rig: { name: "own" } });
    expect(all).toMatchObject({ kind: "Falls short in this combination", rig: { name: "own" } });
    expect(all!.shortBy).toBeCloseTo(few!.shortBy!, 6);
  });

  it("are judged in the order in which they stand, of cables and drives too", () => {
    const K = { ...cable(USB_20G, "K"), claims: [{ kind: "link", gbps: 20 } as const] };
    const D = { ...drive({}, "D"), claims: [peak(900)] };
    const own = rig([port(), K, box("B", [peak(1000)]), D], "own");
    const all = judge([own], [measured(own, around(1040))]);
    expect(all.map(({ part: { name }, kind }) => `${name} ${kind}`)).toEqual([
      "K Can't tell yet",
      "B Delivers",
      "D Delivers",
    ]);
    expect(tellVerdicts(all)).toBe("2 of 3 claims delivered; 1 open.");
  });

  it("name what a plan would measure, and what is impossible apart from the verdict", () => {
    const own = rig([port(), cable(), box("B", [peak(1500)]), drive()], "own");
    const [open] = judge([own], [measured(own, around(700))], NOTHING, [wide]);
    expect(open!.kind).toBe("Can't tell yet");
    expect(open!.impossible[0]).toMatch(/more than its own link can carry/);
    expect(open!.reasons.join()).not.toMatch(/more than its own link/);
    const [unmeasured] = judge([own], []);
    expect(unmeasured!.settle[0]!.ask).toMatchObject({ rig: { like: "own" }, drill: "haul" });
  });

  it("find a part short where it gave a little more with other neighbours, and not where it gave much more", () => {
    const B = box("B", [peak(1000)]);
    const own = rig([port(), cable(), B, drive()], "own");
    const control = rig([port(), cable(), wide, drive()], "control");
    const elsewhere = rig([port(), cable(USB_20G, "K9"), B, drive()], "elsewhere");
    const kinds = (mbps: number) =>
      judge(
        [own, control, elsewhere],
        [
          measured(own, around(430)),
          measured(control, around(1500)),
          measured(elsewhere, around(mbps)),
        ],
      ).map(({ kind, rig: on }) => `${kind}, ${on!.name}`);
    expect(kinds(455)).toEqual(["Falls short in this combination, own"]);
    expect(kinds(800)).not.toEqual(["Falls short, own"]);
  });

  it("hold for each of two rigs put together alike", () => {
    const B = box("B", [peak(1000)]);
    const [monday, tuesday] = ["monday", "tuesday"].map((name) =>
      rig([port(), cable(), B, drive()], name),
    ) as [Rig, Rig];
    const control = rig([port(), cable(), wide, drive()], "control");
    const runs = [
      measured(monday, around(430)),
      measured(tuesday, around(428)),
      measured(control, around(1500)),
    ];
    for (const only of [monday, tuesday]) {
      const [found] = judge([only, control], runs);
      expect(found).toMatchObject({
        kind: "Falls short in this combination",
        rig: { name: only.name },
      });
    }
  });

  it("find a part short that all runs together put it down to, though nobody challenged it", () => {
    const B = box("B", [peak(1000)]);
    const rigs = ["K1", "K2", "K3"].flatMap((name, i) => [
      rig([port(USB_20G, `P${i}`), cable(USB_20G, name), B, drive({}, `D${i}`)], `own ${i}`),
    ]);
    const others = rigs.map((one, i) =>
      rig([one.parts[0]!, one.parts[1]!, box(`other ${i}`, []), one.parts[3]!], `other ${i}`),
    );
    // Each of the others carries clearly more than the slow rigs, none more than the claim.
    const runs = [
      ...rigs.map((one) => measured(one, around(400))),
      ...others.map((one) => measured(one, around(900))),
    ];
    const [found] = judge([...rigs, ...others], runs);
    expect(found).toMatchObject({ kind: "Falls short", settle: [] });
    expect(found!.reasons.join()).toMatch(/All runs together put it down to B itself/);
    expect(found!.challenge.some(({ shown }) => shown === null)).toBe(true);
    const [alone] = judge([rigs[0]!], [runs[0]!]);
    expect(alone!.kind).toBe("Can't tell yet");
  });
});

describe("a step that would settle what is open", () => {
  const [B, C] = [box("B", [peak(1000)]), box("C", [peak(1000)])];
  const [d1, d2] = [drive({}, "d1"), drive({}, "d2")];
  const of = (enclosure: Part, disk: Part, name: string) =>
    rig([port(), cable(), enclosure, disk], name);
  const rigs = [of(B, d1, "B1"), of(C, d2, "C2"), of(C, d1, "C1"), of(B, d2, "B2")];
  const steps = (count: number) =>
    judge(
      rigs.slice(0, count),
      rigs.slice(0, count).map((one) => measured(one, around(500))),
      NOTHING,
      [B, C, d1, d2, port(), cable()],
    ).flatMap(({ settle }) => settle);

  it("makes no rig that was measured, where both swaps of two boxes were done", () => {
    expect(steps(2).some(({ ask }) => ask?.rig.parts !== undefined)).toBe(true);
    const done = new Set(rigs.map(({ parts }) => parts.map(({ id }) => id).join()));
    for (const { ask } of steps(4))
      expect(done.has((ask?.rig.parts ?? []).join()), JSON.stringify(ask)).toBe(false);
  });
});

describe("the challenge of a claim", () => {
  it("tells what each part has carried, also where that is no proof", () => {
    const own = rig([port(), cable(), box("B", [peak(1000)]), drive()], "own");
    for (const rates of [around(220), [220]]) {
      const [found] = judge([own], [measured(own, rates)]);
      for (const { shown, most } of found!.challenge) {
        expect(shown).toBeNull();
        expect(most).toBeCloseTo(220, 0);
      }
      expect(found!.challenge.length).toBeGreaterThan(2);
    }
  });
});

describe("copies of one model", () => {
  const copies = ["one", "two", "three"].map((name) => box(name, [peak(1000)], "Cirque 10"));
  const rigs = copies.map((one) => rig([port(), cable(), one, drive()], one.name));
  const control = rig([port(), cable(), wide, drive()], "control");
  it("are judged each by itself and together", () => {
    const runs = [1040, 1050, 600].map((mbps, i) => measured(rigs[i]!, around(mbps)));
    const all = judge([...rigs, control], [...runs, measured(control, around(1500))]);
    expect(all.map(({ kind }) => kind)).toEqual([
      "Delivers",
      "Delivers",
      "Falls short in this combination",
    ]);
    const [together] = copiesIn(all);
    expect(tellCopies(together!)).toMatch(
      /one of three in its combination falls short of it, two of three deliver it/,
    );
    expect(together!.spread).toBeCloseTo((1050 - 600) / 825, 3);
  });
  it("are none where the model is not said, or the claim is another", () => {
    const unlike = [box("a", [peak(1000)]), box("b", [peak(1000)])];
    const through = unlike.map((one) => rig([port(), cable(), one, drive()], one.name));
    expect(copiesIn(judge(through, []))).toEqual([]);
    const claims = [box("a", [peak(1000)], "M"), box("b", [peak(900)], "M")];
    expect(
      copiesIn(
        judge(
          claims.map((one) => rig([port(), cable(), one, drive()], one.name)),
          [],
        ),
      ),
    ).toEqual([]);
  });
});

describe("which run changed a verdict", () => {
  it("is told from the latest back, and only where one did", () => {
    const B = box("B", [peak(1000)]);
    const own = rig([port(), cable(), B, drive()], "own");
    const control = rig([port(), cable(), wide, drive()], "control");
    const order = [
      measured(own, around(600), { createdAt: "1" }),
      measured(own, around(602), { createdAt: "2" }),
      measured(control, around(1500), { createdAt: "3" }),
    ];
    const latestFirst = order.toReversed();
    const turns = turnsOf({ claim: peak(1000) }, latestFirst, (some) =>
      judge([own, control], [...some]).find(({ part: p }) => p.name === "B")!,
    );
    expect(turns).toMatchObject([
      {
        measurementId: order[2]!.id,
        from: "Can't tell yet",
        to: "Falls short in this combination",
      },
    ]);
  });
});
