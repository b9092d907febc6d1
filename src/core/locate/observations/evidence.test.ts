import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Rig } from "../../chain/rig";
import type { Conditions } from "../../run/result";
import { observationsOf } from "../../study/measurement";
import { around, measured } from "../../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G, USB_5G } from "../../testing/rigs";
import { carriersOf, directionsThrough, gatherEvidence, showsMore } from "./evidence";

const [P, K, B, D] = [port(USB_10G), cable(USB_10G, "K"), enclosure(), drive()];
const bare = rig([P, K, B, D], "own");
const stated: Rig = { ...bare, fileSystem: "exFAT", host: "tower" };
const carrier = (of: Rig, name: string) => carriersOf(of).find((one) => one.name === name)!;
const evidence = (...runs: Parameters<typeof measured>[]) =>
  gatherEvidence(observationsOf(runs.map((args) => measured(...args))));
const shows = (all: ReturnType<typeof gatherEvidence>, of: Rig, name: string, mbps: number) =>
  showsMore(all, carrier(of, name), "read", mbps) !== null;

describe("what a run's flow depends on", () => {
  it("is every part, the driver's mode, and the conditions that were stated", () => {
    expect(carriersOf(stated).map(({ name }) => name)).toEqual([
      "port",
      "K",
      "box",
      "drive",
      expect.stringMatching(/^driver mode /),
      "file system exFAT",
      "host tower",
    ]);
    expect(carriersOf(bare).some(({ name }) => /file system|host/.test(name))).toBe(false);
  });

  it("is a part once, though it stands at both ends of a copy", () => {
    const both = { ...bare, other: [P, drive({}, "source")] };
    const names = carriersOf(both).map(({ name }) => name);
    expect(names.filter((name) => name === "port")).toHaveLength(1);
    expect(directionsThrough(both, carrier(both, "port"), "write")).toEqual(["write", "read"]);
    expect(directionsThrough(both, carrier(both, "source"), "write")).toEqual(["read"]);
    expect(directionsThrough(bare, carrier(bare, "port"), "write")).toEqual(["write"]);
  });
});

describe("what runs have shown", () => {
  it("holds for every part and condition of the rig, up to its interval and no further", () => {
    const all = evidence([stated, around(900)]);
    for (const { name } of carriersOf(stated)) {
      expect(shows(all, stated, name, 800)).toBe(true);
      expect(shows(all, stated, name, 899.9)).toBe(false);
      expect(shows(all, stated, name, 1000)).toBe(false);
    }
  });

  it("is shown in that direction only", () => {
    const all = evidence([bare, around(900), { direction: "write" }]);
    expect(shows(all, bare, "K", 500)).toBe(false);
    expect(showsMore(all, carrier(bare, "K"), "write", 500)).not.toBeNull();
  });

  it.each<[string, Parameters<typeof measured>]>([
    ["a single run", [bare, [900]]],
    [
      "what memory may have answered",
      [bare, around(900), { conditions: { io: "buffered" } as Conditions }],
    ],
    ["a rate above the rig's ceiling", [rig([P, cable(USB_5G, "K"), B, D]), around(900)]],
  ])("is nothing by %s", (_, args) => {
    expect(shows(evidence(args), args[0], "box", 300)).toBe(false);
  });

  it("of several drives is what one of them surely moved", () => {
    const second = drive({}, "second");
    const of = (layout: Rig["layout"]) => ({ ...bare, beside: [second], layout });
    const most = (layout: Rig["layout"]) => {
      const set = of(layout);
      const all = evidence([set, around(900)]);
      return [drive(), second].map(({ name }) =>
        [860, 430].find((mbps) => shows(all, set, name, mbps)),
      );
    };
    expect(most("raid-0")).toEqual([430, 430]);
    // How a mirror's readers, or drives apart, share the flow is not known.
    expect(most("raid-1")).toEqual([undefined, undefined]);
    expect(most("apart")).toEqual([undefined, undefined]);
    expect(shows(evidence([of("apart"), around(900)]), of("apart"), "box", 860)).toBe(true);
  });

  it("at the other end of a copy is the other direction", () => {
    const source = drive({}, "source");
    const copy = { ...bare, other: [source] };
    const all = evidence([copy, around(600), { direction: "write" }]);
    expect(shows(all, copy, "source", 500)).toBe(true);
    expect(shows(all, copy, "drive", 500)).toBe(false);
  });

  it("never shrinks by another run, whatever that gave, and in whatever order they come", () => {
    const rate = fc.integer({ min: 20, max: 1050 });
    fc.assert(
      fc.property(fc.array(rate, { minLength: 1, maxLength: 6 }), rate, (rates, mbps) => {
        const runs = rates.map((one, i): Parameters<typeof measured> => [
          { ...bare, id: `r${i}` },
          around(one),
        ]);
        const all = evidence(...runs);
        expect(shows(all, bare, "box", mbps)).toBe(
          shows(evidence(...runs.toReversed()), bare, "box", mbps),
        );
        if (shows(evidence(...runs.slice(1)), bare, "box", mbps))
          expect(shows(all, bare, "box", mbps)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});
