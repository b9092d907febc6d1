import { describe, expect, it } from "vitest";
import type { Rig } from "../../chain/rig";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../testing/rigs";
import { locate, placesOf } from "../locate";
import { bySetUp, nearest, observedWith, TOGETHER } from "./pooled";
import type { Observation } from "./observation";
import { lasting } from "../steps/relieved";

const [P, B, D] = [port(USB_10G), enclosure(), drive({})];
const through = (name: string, box = B): Rig => rig([P, cable(USB_10G, `K ${name}`), box, D], name);
const seen = (of: Rig, mbps: number, doubtful = false): Observation => ({
  rig: of,
  drill: usualDrill("haul", "read"),
  doubtful,
  measurementIds: [of.id],
  repeats: summarise([mbps, mbps * 1.01]),
});
const names = (list: readonly Observation[]) => list.map((one) => one.rig.name);

describe("what tells most of one rig", () => {
  const slow = seen(through("slow"), 400);
  const alike = Array.from({ length: 60 }, (_, i) => seen(through(`alike ${i}`), 390 + i / 10));
  // It has port and drive in common only, but is what clears them.
  const clears = seen(through("clears", enclosure([], "other box")), 1000);

  it("is everything, where that is little", () => {
    expect(nearest(slow, [clears, slow])).toEqual([clears, slow]);
  });

  it("is itself first, then the fastest with each of its parts, then what is most alike", () => {
    const found = nearest(slow, [...alike, slow, clears]);
    expect(found).toHaveLength(TOGETHER);
    expect(found[0]).toBe(slow);
    expect(names(found)).toContain("clears");
    expect(new Set(names(found)).size).toBe(TOGETHER);
  });

  it("is never what memory may have answered in place of what clears a part", () => {
    const memory = seen(through("memory", enclosure([], "third box")), 7000, true);
    const found = names(nearest(slow, [...alike, slow, clears, memory]));
    expect(found).toContain("clears");
    expect(found).not.toContain("memory");
    const twin = seen(through("twin"), 7000, true);
    expect(names(nearest(slow, [...alike, twin, slow, clears]))).not.toContain("twin");
  });

  it("is of those that are alike what carried most: slow ones clear nothing", () => {
    const fast = Array.from({ length: 30 }, (_, i) => seen(through(`fast ${i}`), 900 + i));
    const found = names(nearest(slow, [...alike, ...fast, slow]));
    expect(found[0]).toBe("slow");
    expect(found.slice(1).every((name) => name.startsWith("fast"))).toBe(true);
  });
});

describe("of very many rigs", () => {
  // Port and box stand together in all but a few of them, and those are slow as well.
  const Q = port(USB_10G, "other port");
  const boxes = ["b1", "b2"].map((name) => enclosure([], name));
  const of = (from: typeof P, box: typeof B, name: string, mbps: number) =>
    seen(rig([from, cable(USB_10G, `lead ${name}`), box, D], name), mbps);
  const slow = of(P, B, "slow", 44);
  const alike = Array.from({ length: 80 }, (_, i) => of(P, B, `alike ${i}`, 44 + i / 100));
  const apart = [of(P, boxes[0]!, "without the box", 43), of(P, boxes[1]!, "nor here", 43.2)];
  const fine = of(Q, boxes[0]!, "fine", 950);
  const all = [...alike, slow, fine, ...apart];

  it("are those, too, in which the parts of the one do not stand together, though they be slow", () => {
    const found = names(nearest(slow, all));
    expect(found).toHaveLength(TOGETHER);
    expect(found.some((name) => name === "without the box" || name === "nor here")).toBe(true);
    expect(names(nearest(slow, all.toReversed())).toSorted()).toHaveLength(TOGETHER);
  });

  it("decide between two parts that nearly always stand together", () => {
    const [first] = locate(all, [P, Q, B, ...boxes, D], { of: (one) => one === slow });
    expect(first!.explanations[0]!.at).toEqual({ part: "port" });
    const probability = placesOf(first!.explanations)[0]!.probability;
    expect(probability).toBeGreaterThan(0.8);
  });
});

describe("one set-up", () => {
  it("is known by its items and how its links came up, whatever the rig is called", () => {
    const one = through("one");
    expect(observedWith(one, { ...one, id: "again", name: "again" })).toBe(true);
    const dropped = {
      ...one,
      settled: [{ partId: B.id, mode: "usb-480m", by: "system" as const }],
    };
    expect(observedWith(one, dropped)).toBe(false);
    expect(observedWith(one, through("two"))).toBe(false);
    const list = [seen(one, 400), seen(dropped, 40), seen(through("two"), 400)];
    expect([...bySetUp(list).values()].map(names)).toEqual([["one", "one"], ["two"]]);
    expect(bySetUp(list)).toBe(bySetUp(list));
  });

  it("keeps the state of its drive, as long as that is the same drive", () => {
    const one = through("one");
    const other = { ...one, parts: [...one.parts.slice(0, -1), drive({}, "fresh")] };
    expect(lasting(["temperature", "fill"], one, through("two"))).toEqual(["temperature", "fill"]);
    expect(lasting(["temperature", "fill"], one, other)).toEqual([]);
  });
});
