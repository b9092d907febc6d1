import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { usualDrill } from "../drills/shape";
import { summarise } from "../stats/repeats";
import { cable, drive, enclosure, port, rig, USB_10G } from "../testing/rigs";
import { bySetUp, nearest, observedWith, TOGETHER, type Observation } from "./seen";
import { lasting } from "./state";

const [P, B, D] = [port(USB_10G), enclosure(), drive({})];
const through = (name: string, box = B): Rig => rig([P, cable(USB_10G, `K ${name}`), box, D], name);
const seen = (of: Rig, mbps: number, doubtful = false): Observation => ({
  ...{ rig: of, drill: usualDrill("haul", "read"), doubtful, measurementIds: [of.id] },
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
