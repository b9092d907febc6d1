import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { cable, drive, enclosure, part, port, rig, USB_10G, USB_20G } from "../../testing/rigs";
import type { Rig } from "../../chain/rig";
import type { Direction } from "../../units/rate";
import { locate, type Observation } from "../locate";

const P = port(USB_10G);
const [K1, K2] = [cable(USB_10G, "K1"), cable(USB_10G, "K2")];
const B = enclosure();
const D = drive({});
const slow: Rig = { ...rig([P, K1, B, D], "slow"), fileSystem: "", host: "" };
const seen = (through: Rig, mbps: number, direction: Direction = "read"): Observation => ({
  rig: through,
  drill: usualDrill("haul", direction),
  doubtful: false,
  measurementIds: [through.id],
  repeats: summarise([mbps, mbps * 1.004]),
});
const C = enclosure([], "C");
const of = (all: Observation[], shelf = [P, K1, K2, B, C, D]) =>
  locate(all, shelf, { of: (one) => one === all[0] })[0]!;

describe("steps that are no exchange", () => {
  it("are the other direction, without hands, where it was not measured yet", () => {
    const found = of([seen(slow, 400)]);
    const turned = found.nextSwaps.find(({ drill: { direction } }) => direction === "write")!;
    expect(turned).toMatchObject({ minutes: 0, rig: slow });
    expect(turned.drill.direction).toBe("write");
    expect(turned.outcomes).toHaveLength(2);
    expect(turned.outcomes.reduce((sum, one) => sum + one.probability, 0)).toBeCloseTo(1, 2);
    const both = of([seen(slow, 400), seen(slow, 990, "write")]);
    expect(both.nextSwaps.some(({ drill: { direction } }) => direction === "write")).toBe(false);
  });

  it("are ladders on the same rig, once each, where they part what costs requests from what costs bytes", () => {
    const named = { ...slow, fileSystem: "exFAT", host: "desk" };
    const ladders = (all: Observation[]) =>
      of(all).nextSwaps.flatMap(({ kind, drill }) => (kind === "drill" ? [drill.name] : []));
    const first = of([seen(named, 400)]);
    expect(ladders([seen(named, 400)])).toContain("stride-ladder");
    for (const { kind, outcomes, rig: made } of first.nextSwaps) {
      if (kind !== "drill") continue;
      expect(made).toBe(named);
      expect(outcomes.reduce((sum, one) => sum + one.probability, 0)).toBeCloseTo(1, 2);
      for (const { fromMBps, toMBps } of outcomes) expect(fromMBps).toBeLessThanOrEqual(toMBps);
    }
    const ladder = { ...seen(named, 380), drill: usualDrill("stride-ladder", "read") };
    expect(ladders([seen(named, 400), ladder])).not.toContain("stride-ladder");
  });

  it("are a long fill while writing, which takes its minutes, and none while reading", () => {
    const names = (all: Observation[]) => of(all).nextSwaps.map(({ drill }) => drill.name);
    expect(names([seen(slow, 400)])).not.toContain("long-fill");
    const fill = of([seen(slow, 400, "write")]).nextSwaps.find(
      ({ drill }) => drill.name === "long-fill",
    )!;
    expect(fill.minutes).toBeGreaterThan(0);
    const done = { ...seen(slow, 400, "write"), drill: usualDrill("long-fill", "write") };
    expect(names([seen(slow, 400, "write"), done])).not.toContain("long-fill");
  });

  it("are the same again past memory where a rate is above what nothing honest exceeds", () => {
    const memory = of([seen(slow, 3000)]);
    expect(memory.settled).toBe(false);
    expect(memory.nextSwaps).toHaveLength(1);
    const [again] = memory.nextSwaps;
    expect(again).toMatchObject({ kind: "drill", rig: slow });
    expect(again!.outcomes[0]!.toMBps).toBeLessThan(1250);
    // Once it was: that counts, and what memory answered is no evidence on any part.
    const after = locate([seen(slow, 3000), seen(slow, 1000)], [P, K1, K2, B, C, D]);
    expect(after).toHaveLength(1);
    expect(after[0]!.explanations[0]!.kind).toBe("as-designed");
  });

  it("end where only a spare that is worse could part what is left: that is one line then", () => {
    const slower = { ...slow, id: "spare", name: "spare", parts: [P, K2, B, D] };
    const named = { ...slow, fileSystem: "", host: "" };
    // The only other cable gives far less still: whether it is K1 or port and enclosure, it cannot tell.
    const found = of([seen(named, 400), seen(slower, 60)], [P, K1, K2, B, D]);
    const groups = found.explanations.filter(({ site }) => site?.kind === "part");
    expect(new Set(groups.map(({ group }) => group)).size).toBe(1);
    expect(groups[0]!.group).not.toBeNull();
  });

  it("name what to borrow where the shelf has nothing of a kind", () => {
    const alone = of([seen(slow, 430)], [P, K1, B, D]);
    // Nothing here can part port, cable, enclosure and drive: one line for all of them.
    expect(new Set(alone.explanations.map(({ group }) => group)).size).toBeLessThan(4);
    expect(alone.borrow!.text).toMatch(/^put another cable in place of K1/);
    // A second cable at hand takes that away.
    const { borrow } = of([seen(slow, 430)], [P, K1, K2, B, D]);
    expect(borrow?.text ?? "").not.toMatch(/another cable/);
  });

  it("are two changes at once where no single one makes a rig", () => {
    // A wide port and a wide cable only: each of them alone links to nothing that stands here.
    const only = { down: ["usb4-40g-pcie"] };
    const W = part("host-port", "wide port", only);
    const wideCable = part("cable", "wide cable", { through: only.down });
    const box = part("enclosure", "both", {
      up: [...USB_10G, ...only.down],
      down: ["pcie-3.0-x4"],
    });
    const both: Rig = { ...slow, parts: [P, K1, box, D] };
    const known = [seen(both, 400), seen(both, 410, "write")];
    const found = of(known, [P, K1, box, D, W, wideCable]);
    // Neither port nor cable can be exchanged alone, so none is offered that will not link.
    for (const { rig: made } of found.nextSwaps)
      expect(made.parts.filter(({ name }) => name.startsWith("wide")).length).not.toBe(1);
  });

  it("are never offered once a place is found", () => {
    const wide = { ...slow, id: "wide", parts: [port(USB_20G), K2, B, D] };
    const found = of([seen(slow, 1040), seen(wide, 1045)], [P, K1, K2, B, D]);
    expect(found.settled).toBe(true);
    expect([found.nextSwaps, found.borrow]).toEqual([[], null]);
  });
});
