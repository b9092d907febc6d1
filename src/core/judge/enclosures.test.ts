import { describe, expect, it } from "vitest";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { observationsOf } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_20G, USB_5G } from "../testing/rigs";
import { ownCeilings, sideBySide } from "./enclosures";
import { box, fill, hauled, NOTHING, peak, wide } from "./testing/judging";

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
    expect(found!.enclosures.map(({ rigs: [best] }) => best!.name)).toEqual(["one K2", "wide K2"]);
  });

  it("have no figure missing that another rig of the same drive and enclosure gave", () => {
    const one = box("one", []);
    const [via1, via2] = ["K1", "K2"].map((name) =>
      rig([port(), cable(undefined, name), one, drive()], name),
    ) as [Rig, Rig];
    const free = rig([port(), cable(), wide, drive()], "free");
    const runs = [
      measured(via1, around(900)),
      hauled(via2, 700),
      measured(free, around(1000)),
      hauled(free, 950),
    ];
    const [found] = sideBySide([via1, via2, free], observationsOf(runs), NOTHING);
    const [first] = found!.enclosures;
    expect(first!.burst.read!.mbps).toBeCloseTo(900, -1);
    expect(first!.burst.write!.mbps).toBeCloseTo(700, -1);
    expect(first!.rigs.map(({ name }) => name).toSorted()).toEqual(["K1", "K2"]);
  });
});
