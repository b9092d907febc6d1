import { describe, expect, it } from "vitest";
import type { Claim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { observationsOf, type Measurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, part, PCIE, port, rig, USB_20G, USB_5G } from "../testing/rigs";
import type { DropIn } from "./bursts";
import { copiesIn, tellCopies } from "./copies";
import { ownCeilings, sideBySide } from "./enclosures";
import { turnsOf } from "./history";
import { judgeAll, partsOfRigs } from "./judged";
import { tellVerdicts } from "./tell";

const NOTHING: DropIn = () => null;
const peak = (mbps: number): Claim => ({ kind: "peak", direction: "read", mbps });
const writing = (kind: "peak" | "sustained", mbps: number): Claim => ({
  ...{ kind, direction: "write", mbps },
});
const box = (name: string, claims: Claim[], model = "") => ({ ...enclosure(claims, name), model });
const wide = part("enclosure", "wide", { up: USB_20G, down: PCIE });
const judge = (rigs: Rig[], runs: Measurement[], dropIn = NOTHING, shelf: Part[] = []) =>
  judgeAll(partsOfRigs(rigs), {
    ...{ rigs, observations: observationsOf(runs), tolerance: 0.05, shelf, dropIn },
  });
/** A long run with what it gave at first and in the end. */
const fill = (through: Rig, burst: number, sustained: number) =>
  measured(through, around(sustained), {
    direction: "write",
    drill: { name: "long-fill" },
    result: { steps: [{ burstMBps: burst, sustainedMBps: sustained } as never] },
  });
const hauled = (through: Rig, mbps: number) =>
  measured(through, around(mbps), { direction: "write" });

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
    expect(few).toMatchObject({ kind: "Falls short", rig: { name: "own" } });
    expect(all).toMatchObject({ kind: "Falls short", rig: { name: "own" } });
    expect(all!.shortBy).toBeCloseTo(few!.shortBy!, 6);
  });

  it("are judged in the order in which they stand, of cables and drives too", () => {
    const K = { ...cable(USB_20G, "K"), claims: [{ kind: "link", gbps: 20 } as const] };
    const D = { ...drive({}, "D"), claims: [peak(900)] };
    const own = rig([port(), K, box("B", [peak(1000)]), D], "own");
    const all = judge([own], [measured(own, around(1040))]);
    expect(all.map(({ part: { name }, kind }) => `${name} ${kind}`)).toEqual([
      ...["K Can't tell yet", "B Delivers", "D Delivers"],
    ]);
    expect(tellVerdicts(all)).toBe("Of 3 claims, 2 are delivered, 1 can’t be told yet.");
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
    expect(kinds(455)).toEqual(["Falls short, own"]);
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
      expect(found).toMatchObject({ kind: "Falls short", rig: { name: only.name } });
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
    expect(found).toMatchObject({ kind: "Falls short" });
    expect(found!.reasons.join()).toMatch(/All runs together put it down to B itself/);
    expect(found!.challenge.some(({ shown }) => shown === null)).toBe(true);
    const [alone] = judge([rigs[0]!], [runs[0]!]);
    expect(alone!.kind).toBe("Can't tell yet");
  });
});

describe("a link class", () => {
  const link = (gbps: number): Claim => ({ kind: "link", gbps });
  const B = box("B", [link(10)]);
  const own = rig([port(), cable(), B, drive()], "own");
  const control = rig([port(), cable(), wide, drive()], "control");
  const kindOf = (rigs: Rig[], runs: Measurement[]) => judge(rigs, runs)[0]!;

  it("is delivered by a run that lies in what such a link attains", () => {
    expect(kindOf([own], [measured(own, around(1000))]).kind).toBe("Delivers");
  });

  it("is not delivered by what a slower mode gives too where other runs show that it was one", () => {
    // Without queueing a link of 20 Gb/s gives what one of 10 Gb/s may give too.
    const P = { ...port(), claims: [link(20)] };
    const W = { ...wide, limits: {} };
    const through = (name: string, from: Part, more = {}) =>
      rig([from, cable(), W, drive()], name, more);
    const unqueued = through("unqueued", P, { transport: "usb-unqueued" });
    const queued = through("queued", P);
    const other = through("other port", port(USB_20G, "other"));
    const open = kindOf([unqueued], [measured(unqueued, around(700))]);
    expect(open.kind).toBe("Can't tell yet");
    expect(open.settle[0]!.ask!.rig).toEqual({ like: unqueued.id, transport: "usb-queued" });
    // More than that only the faster one gives, with queueing or without.
    expect(kindOf([unqueued], [measured(unqueued, around(1200))]).kind).toBe("Delivers");
    // It is delivered where somebody saw the link come up so.
    const settled = [{ partId: "wide", mode: "usb-20g", by: "system" as const }];
    const reported = { ...unqueued, settled };
    expect(kindOf([reported], [measured(reported, around(700))]).kind).toBe("Delivers");
    const suspected = kindOf(
      [unqueued, queued, other],
      [
        measured(unqueued, around(560)),
        measured(queued, around(1000)),
        measured(other, around(1900)),
      ],
    );
    expect(suspected.kind).toBe("Falls short");
  });

  it("is missed where all else carried more, or all runs together put it down to the part", () => {
    const found = kindOf(
      [own, control],
      [measured(own, around(440)), measured(control, around(1500))],
    );
    expect(found).toMatchObject({ kind: "Falls short", settle: [], rig: { name: "own" } });
    expect(found.shortBy).toBeGreaterThan(0.4);
    expect(found.reasons.join(" ")).toMatch(/440.* a link of 10 Gb\/s .* attains at least/);
    // The system's word alone, that the link came up slower, does not say whose doing that is.
    const settled = [{ partId: "B", mode: "usb-5g", by: "system" as const }];
    const reported = { ...own, settled };
    expect(kindOf([reported], [measured(reported, around(440))]).kind).toBe("Can't tell yet");
  });

  it("is open where something else held it back, and where no part ran such a link", () => {
    expect(kindOf([own], [measured(own, around(440))]).kind).toBe("Can't tell yet");
    const slow = rig([port(), cable(USB_5G, "old"), B, drive()], "slow");
    expect(kindOf([slow], [measured(slow, around(440))])).toMatchObject({
      ...{ kind: "Can't tell yet", shortBy: null },
      settle: [{ text: expect.stringMatching(/whose other parts run 10 Gb\/s too/) }],
    });
  });

  it("is that of the plug, not of the slot behind it: beyond the plug it is impossible, and open", () => {
    const lies = {
      ...part("enclosure", "lies", { up: USB_5G, down: PCIE.slice(0, 2) }),
      claims: [link(10)],
    };
    const there = rig([port(), cable(), lies, drive()], "there");
    const found = kindOf(
      [there, control],
      [measured(there, around(440)), measured(control, around(2000))],
    );
    expect(found).toMatchObject({ kind: "Can't tell yet", shortBy: null });
    expect(found.impossible[0]).toMatch(/more than its fastest mode signals/);
    const K = { ...cable(USB_20G, "K"), claims: [link(20)] };
    const through = rig([port(), K, wide, drive()], "through");
    const other = rig([port(), cable(), wide, drive()], "other");
    const runs = [measured(through, around(900)), measured(other, around(1900))];
    expect(kindOf([through, other], runs).kind).toBe("Falls short");
  });

  it("is not missed by a drive that cannot fill it", () => {
    const disk = drive({}, "disk");
    const [there, elsewhere] = [
      rig([port(), cable(), B, disk], "there"),
      rig([port(), cable(), wide, disk], "elsewhere"),
    ];
    const runs = [measured(there, around(210)), measured(elsewhere, around(211))];
    expect(kindOf([there, elsewhere], runs).kind).toBe("Can't tell yet");
  });
});

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
  const kindOf = (runs: Measurement[]) => judge([own, other], runs)[0]!;

  it("shows a claim of small requests kept, in whatever order they were made", () => {
    const [deep, one] = [scatter(own, 92_000), scatter(own, 11_000, { depth: 1 })];
    expect(kindOf([deep, one]).kind).toBe("Delivers");
    expect(kindOf([one, deep]).kind).toBe("Delivers");
  });

  it("convicts nobody who was asked for less at a time than the others", () => {
    const control = scatter(other, 120_000);
    expect(kindOf([scatter(own, 41_000), control]).kind).toBe("Falls short");
    const shallow = kindOf([scatter(own, 11_000, { depth: 1 }), control]);
    expect(shallow.kind).toBe("Can't tell yet");
    expect(shallow.settle[0]!.ask).toMatchObject({ rig: { like: own.id }, drill: "scatter" });
    // Another that reaches it one at a time shows that one at a time suffices.
    const at1 = scatter(other, 120_000, { depth: 1 });
    expect(kindOf([scatter(own, 41_000), at1]).kind).toBe("Falls short");
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

describe("a claim kept in bursts only", () => {
  const B = box("B", [writing("peak", 900), writing("sustained", 850)]);
  const own = rig([port(), cable(), B, drive()], "own");
  const other = rig([port(), cable(), wide, drive()], "other");
  const bursts = (more: Measurement[], dropIn = NOTHING) => {
    const [first] = judge([own, other], [hauled(own, 950), fill(own, 950, 400), ...more], dropIn);
    return { kind: first!.kind, words: first!.reasons.join(" ") };
  };

  it("comes from the enclosure where the same drive keeps it up in another", () => {
    const { kind, words } = bursts([fill(other, 1000, 980)]);
    expect(kind).toBe("Delivers in bursts only");
    expect(words).toMatch(/so it is B that slows it down/);
    const hot = bursts([fill(other, 1000, 980)], () => ({
      ...{ cause: { kind: "heat", because: [] }, hottest: 71.4 },
    }));
    expect(hot.words).toMatch(/heat, 71 °C at most/);
  });

  it("comes from the drive where that keeps up no more elsewhere", () => {
    expect(bursts([fill(other, 1000, 410)]).words).toMatch(/its own cache gives out/);
    // That it gave as little all along there says something of the way to it.
    expect(bursts([fill(other, 410, 410)]).words).toMatch(/is not known/);
    expect(bursts([fill(other, 410, 410), hauled(other, 1000)]).words).toMatch(/its own cache/);
  });

  it("comes from the enclosure where another drive sinks as far in it", () => {
    const disk = rig([port(), cable(), B, drive({}, "disk")], "disk");
    const words = (burst: number) =>
      judge(
        [own, disk],
        [hauled(own, 950), fill(own, 950, 400), fill(disk, burst, 395)],
      )[0]!.reasons.join(" ");
    expect(words(940)).toMatch(/it is B, not the drive’s cache/);
    expect(words(396)).toMatch(/is not known/);
  });

  it("comes from what its trace says where nothing else is known, and says so where that is nothing", () => {
    const cache: DropIn = () => ({ cause: { kind: "cache", because: ["a cliff"] }, hottest: null });
    expect(bursts([], cache).words).toMatch(/the drive’s cache gave out \(a cliff\)/);
    expect(bursts([]).words).toMatch(/is not known/);
  });

  it("is delivered as long as no long run says otherwise", () => {
    const [first] = judge([own], [hauled(own, 950)]);
    expect(first!.kind).toBe("Delivers");
    const [kept] = judge([own], [hauled(own, 950), fill(own, 950, 940)]);
    expect(kept!.kind).toBe("Delivers");
  });

  it("is not told from long runs through a path that is slow at once", () => {
    const cable5 = cable(["usb-480m"], "thin");
    const thin = rig([port(), cable5, B, drive()], "thin");
    const [slow] = judge([own, thin], [hauled(own, 950), hauled(thin, 40), fill(thin, 40, 39)]);
    expect(slow!.kind).toBe("Delivers");
    // Nor where nobody knows whether another drive takes a burst; its own trace tells.
    const disk = rig([port(), cable(), B, drive({}, "disk")], "disk");
    const [unknown] = judge([own, disk], [hauled(own, 950), fill(disk, 200, 199)]);
    expect(unknown!.kind).toBe("Delivers");
    const [told] = judge([own, disk], [hauled(own, 950), fill(disk, 940, 199)]);
    expect(told!.kind).toBe("Delivers in bursts only");
    // All else in that rig has carried more.
    const [cleared] = judge(
      [own, other, disk, rig([port(), cable(), wide, drive({}, "disk")], "both")],
      [
        ...[hauled(own, 950), fill(disk, 200, 199), hauled(other, 1500)],
        hauled(rig([port(), cable(), wide, drive({}, "disk")], "both"), 1500),
      ],
    );
    expect(cleared!.kind).toBe("Delivers in bursts only");
  });

  it("falls short of a claim of sustained speed, with the cause", () => {
    const [, sustained] = judge(
      [own, other],
      [hauled(own, 950), fill(own, 950, 400), fill(other, 1000, 980)],
    );
    expect(sustained).toMatchObject({ kind: "Falls short" });
    expect(sustained!.reasons.join()).toMatch(/it is B that slows it down/);
  });
});

describe("copies of one model", () => {
  const copies = ["one", "two", "three"].map((name) => box(name, [peak(1000)], "Cirque 10"));
  const rigs = copies.map((one) => rig([port(), cable(), one, drive()], one.name));
  const control = rig([port(), cable(), wide, drive()], "control");
  it("are judged each by itself and together", () => {
    const runs = [1040, 1050, 600].map((mbps, i) => measured(rigs[i]!, around(mbps)));
    const all = judge([...rigs, control], [...runs, measured(control, around(1500))]);
    expect(all.map(({ kind }) => kind)).toEqual(["Delivers", "Delivers", "Falls short"]);
    const [together] = copiesIn(all);
    expect(tellCopies(together!)).toMatch(
      /one of three falls short of it, two of three deliver it/,
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

describe("enclosures", () => {
  const priced = { ...box("B", [peak(1000)]), price: { amount: 60, currency: "EUR" } };
  const drives = [700, 1500, 2100].map((mbps) => ({ mbps, part: drive({}, `D${mbps}`) }));
  const inside = drives.map((one) => rig([port(), cable(), priced, one.part], `in ${one.mbps}`));
  const free = drives.map((one) => rig([port(), cable(), wide, one.part], `free ${one.mbps}`));
  const runs = drives.flatMap(({ mbps }, i) => [
    measured(inside[i]!, around(Math.min(mbps, 900))),
    measured(free[i]!, around(mbps)),
  ]);

  it("show their own ceiling over several drives, with an interval", () => {
    const [own] = ownCeilings([...inside, ...free], observationsOf(runs)).filter(
      ({ part: { name } }) => name === "B",
    );
    expect(own!.fit.ceiling! / 900).toBeCloseTo(1, 1);
    expect(own!.fit.low).toBeLessThan(900);
    expect(own!.fit.high).toBeGreaterThan(900);
    expect(own!.points).toHaveLength(3);
    expect(own!.unshown).toEqual([]);
  });

  it("leave open whose ceiling it is where nothing shows that the way to them carries more", () => {
    const bare = drives.map((one) =>
      rig([port(USB_20G, "other"), wide, one.part], `bare ${one.mbps}`),
    );
    const shown = drives.flatMap(({ mbps }, i) => [
      measured(inside[i]!, around(Math.min(mbps, 900))),
      measured(bare[i]!, around(mbps)),
    ]);
    const [own] = ownCeilings([...inside, ...bare], observationsOf(shown));
    expect(own!.part.name).toBe("B");
    expect(own!.unshown).toEqual(expect.arrayContaining(["port", "cable"]));
    expect(own!.unshown.join()).not.toMatch(/D2100/);
  });

  it("have no ceiling where another part’s link holds them back as designed", () => {
    const thin = cable(USB_5G, "thin");
    const slow = drives.map((one) => rig([port(), thin, priced, one.part], `slow ${one.mbps}`));
    const shown = drives.flatMap(({ mbps }, i) => [
      measured(slow[i]!, around(Math.min(mbps, 445))),
      measured(free[i]!, around(mbps)),
    ]);
    expect(
      ownCeilings([...slow, ...free], observationsOf(shown)).filter(
        ({ part: { id } }) => id === "B",
      ),
    ).toEqual([]);
  });

  it("show none where a drive was seen nowhere else", () => {
    const only = runs.filter(({ rig: { name } }) => name.startsWith("in "));
    expect(ownCeilings(inside, observationsOf(only))).toEqual([]);
  });

  it("stand side by side for one drive, with the price of what they deliver", () => {
    const sides = sideBySide([...inside, ...free], observationsOf(runs), NOTHING);
    const [first] = sides.filter(({ drive: { name } }) => name === "D2100");
    const of = (name: string) => first!.enclosures.find(({ part: p }) => p.name === name)!;
    expect(of("B").burst.read!.mbps).toBeCloseTo(900, 0);
    expect(of("B").claim.read).toBe(1000);
    expect(of("B").per100!.amount).toBeCloseTo(60 / 9, 2);
    expect(of("wide").per100).toBeNull();
    expect(of("B").heldBy).toEqual([]);
    // Behind a slower cable it delivers what that lets through: no price of its own.
    const behind = rig([port(), cable(USB_5G, "thin"), priced, drives[2]!.part], "behind");
    const [held] = sideBySide(
      [behind, ...free],
      observationsOf([measured(behind, around(445)), ...runs.slice(1)]),
      NOTHING,
    );
    const thin = held!.enclosures.find(({ part: p }) => p.name === "B")!;
    expect(thin).toMatchObject({ heldBy: ["thin"], per100: null });
  });

  it("stand with the heat of their best rig’s long runs, and no other trace is read", () => {
    const D = drive();
    const through = (box: Part, lead: string) =>
      rig([port(), cable(undefined, lead), box, D], `${box.name} ${lead}`);
    const rigs = [enclosure([], "one"), wide].flatMap((of) => [
      through(of, "K1"),
      through(of, "K2"),
    ]);
    const runs = rigs.flatMap((one, i) => [
      hauled(one, 800 + 50 * i),
      fill(one, 800 + 50 * i, 400 + i),
    ]);
    const read: string[] = [];
    const [found] = sideBySide(rigs, observationsOf(runs), ([id]) => {
      read.push(id!);
      return { cause: null, hottest: 50 + read.length };
    });
    const longRuns = [runs[3]!, runs[7]!].map(({ id }) => id);
    expect(read.toSorted()).toEqual(longRuns.toSorted());
    expect(found!.enclosures.map(({ celsius }) => celsius)).toEqual([51, 52]);
    expect(found!.enclosures.map(({ rig: best }) => best.name)).toEqual(["one K2", "wide K2"]);
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
      { measurementId: order[2]!.id, from: "Can't tell yet", to: "Falls short" },
    ]);
  });
});
