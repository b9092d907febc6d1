import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { Conditions } from "../run/result";
import { shapeOf } from "../drills/shape";
import { observationsOf } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../testing/rigs";
import { locate, placesOf } from "./locate";

const [P, K1, K2, B, D] = [
  port(USB_10G),
  cable(USB_10G, "K1"),
  cable(USB_10G, "K2"),
  enclosure(),
  drive(),
];
const shelf = [P, K1, K2, B, D];
const slow = (name: string, more: Partial<Rig> = {}) => rig([P, K1, B, D], name, more);
const found = (...runs: Parameters<typeof measured>[]) =>
  locate(observationsOf(runs.map((args) => measured(...args))), shelf);

describe("what is said of each rig", () => {
  it("is one entry for each rig, direction and drill that has runs", () => {
    const one = slow("one");
    const entries = found(
      [one, around(440)],
      [one, around(430), { direction: "write" }],
      [one, [12.1, 12.2], { drill: { name: "scatter" } }],
      [rig([P, K2, B, D], "other"), around(950)],
    ).map(({ rig: { name }, drill, direction }) => `${name} ${drill.name} ${direction}`);
    expect(entries.toSorted()).toEqual([
      "one haul read",
      "one haul write",
      "one scatter read",
      "other haul read",
    ]);
  });

  it("does not hold runs against others that were asked for more at a time", () => {
    const one = { drill: { name: "haul", depth: 1 } };
    const entries = found(
      [slow("own"), around(1010)],
      [slow("own"), around(610), one],
      [rig([P, K2, B, D], "other"), around(1015)],
    );
    const of = (depth: number) =>
      entries.filter(
        ({ rig: { name }, drill }) => name === "own" && shapeOf(drill)!.depth === depth,
      );
    expect(of(16).map(({ observedMBps }) => Math.round(observedMBps))).toEqual([1010]);
    expect(placesOf(of(16)[0]!.explanations)[0]!.explanations[0]!.kind).toBe("as-designed");
    // Of one at a time what each takes counts in full: that is foreseen, and accuses nobody.
    expect(of(1).map(({ observedMBps }) => Math.round(observedMBps))).toEqual([610]);
    expect(placesOf(of(1)[0]!.explanations)[0]!.explanations[0]!.kind).toBe("as-designed");
  });

  it("is one for each of two rigs put together alike, with what each gave", () => {
    const entries = found([slow("monday"), around(440)], [slow("tuesday"), [452, 454]]);
    const of = (name: string) => entries.find((entry) => entry.rig.name === name)!;
    expect(entries).toHaveLength(2);
    expect(of("monday").observedMBps).toBe(440);
    expect(of("tuesday").observedMBps).toBe(453);
    // It is one set-up: what holds it back is the same.
    expect(of("monday").explanations).toEqual(of("tuesday").explanations);
  });

  it("counts the driver mode that comes about by itself as none that was chosen", () => {
    const [first, second] = found(
      [slow("unsaid"), around(440)],
      [slow("said", { transport: "usb-queued" }), around(442)],
    );
    expect(first!.explanations).toEqual(second!.explanations);
    const swaps = first!.nextSwaps.map(({ rig: { transport } }) => transport);
    expect(swaps).not.toContain("usb-queued");
  });

  it("is said of memory's rates too, of every rig that gave them", () => {
    const buffered = { conditions: { io: "buffered" } as Conditions };
    const entries = found(
      [slow("one"), around(3000), buffered],
      [slow("two"), around(3100), buffered],
    );
    expect(entries.map(({ rig: { name } }) => name).toSorted()).toEqual(["one", "two"]);
    for (const { explanations } of entries) expect(explanations[0]!.kind).toBe("memory-answered");
  });

  it("is another computer to connect the drive to by its name, where one is at hand", () => {
    const told = observationsOf([measured(slow("one", { host: "desk" }), around(440))]);
    const hosts = (at?: string[]) =>
      locate(told, shelf, at ? { hosts: at } : {}).flatMap(({ nextSwaps }) =>
        nextSwaps.flatMap(({ rig: { host } }) => (host === "desk" ? [] : host)),
      );
    expect(new Set(hosts())).toEqual(new Set(["another computer"]));
    expect(new Set(hosts(["lab2", "lab3"]))).toEqual(new Set(["lab2", "lab3"]));
  });

  it("is as designed at the ceiling, with nobody to suspect", () => {
    const [entry] = found([slow("one"), around(1050)]);
    expect(entry!.settled).toBe(true);
    expect(placesOf(entry!.explanations)[0]!.explanations[0]!.kind).toBe("as-designed");
    expect(entry!.nextSwaps).toEqual([]);
  });
});
