import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import { usualDrill } from "../drills/shape";
import { summarise } from "../stats/repeats";
import { cable, drive, enclosure, hub, port, rig, USB_10G } from "../testing/rigs";
import { designed, droppedLinks } from "../chain/designed";
import { locate, placesOf, type Observation } from "./locate";
import { tellLocated } from "./findings/sentences";

const [K1, K2, K3] = ["K1", "K2", "K3"].map((name) => cable(USB_10G, name));
const chain = rig([port(USB_10G), K1!, hub(USB_10G), K3!, enclosure(), drive({})], "slow");
const reported = (mode: string, by: "system" | "tester" = "system"): Rig => ({
  ...chain,
  settled: [{ partId: "hub", mode, by }],
});
const slow = reported("usb-480m");
const seen = (through: Rig, mbps: number): Observation => ({
  rig: through,
  drill: usualDrill("haul", "read"),
  doubtful: false,
  measurementIds: [through.id],
  repeats: summarise([mbps, mbps * 1.01]),
});
const of = (all: Observation[], shelf = [...chain.parts, K2!]) =>
  locate(all, shelf, { of: (one) => one === all[0] })[0]!;
const dropped = (all: Observation[], id: string) =>
  of(all)
    .explanations.filter(
      ({ kind, at }) => kind === "dropped-mode" && at && "part" in at && at.part === id,
    )
    .reduce((sum, { probability }) => sum + probability, 0);

describe("a link that is reported at a slower mode than its parts share", () => {
  it("is no design: the parts of that link are suspected, and no others", () => {
    expect(droppedLinks(slow).map(({ lower }) => lower.id)).toEqual(["hub"]);
    const found = of([seen(slow, 38)]);
    expect(found.explanations.some(({ kind }) => kind === "as-designed")).toBe(false);
    const here = ["port", "K1", "hub"].reduce((sum, id) => sum + dropped([seen(slow, 38)], id), 0);
    expect(here).toBeGreaterThan(0.85);
    for (const id of ["K3", "box"]) expect(dropped([seen(slow, 38)], id)).toBeLessThan(0.01);
    expect(tellLocated(found)).toMatch(/is open|ikely/);
    expect(found.nextSwaps[0]!.text).toMatch(/K1|hub/);
  });

  it("says so as evidence, with who reported it", () => {
    const texts = (through: Rig) =>
      of([seen(through, 38)]).posterior.signatures.map(({ text }) => text);
    expect(texts(slow).join()).toMatch(/The system reports the link to the hub hub at .*480/);
    expect(texts(reported("usb-480m", "tester")).join()).toMatch(/^The tester declares/);
  });

  it("is the fault of a cable without which it comes up as it should", () => {
    const swapped: Rig = {
      ...chain,
      id: "swapped",
      name: "swapped",
      parts: chain.parts.map((part) => (part === K1 ? K2! : part)),
    };
    const both = [seen(slow, 38), seen(swapped, 980)];
    const [first] = placesOf(of(both).explanations);
    expect(first!.explanations[0]).toMatchObject({ kind: "dropped-mode", at: { part: "K1" } });
    expect(first!.probability).toBeGreaterThan(0.9);
  });

  it("clears the parts of a link that is reported at its best of holding it lower", () => {
    const fine = reported("usb-10g");
    expect(dropped([seen(fine, 38)], "K1")).toBeLessThan(dropped([seen(chain, 38)], "K1") / 4);
    expect(dropped([seen(fine, 38)], "K3")).toBeGreaterThan(dropped([seen(chain, 38)], "K3"));
  });

  it("is what came about that time where the same set-up came up otherwise too", () => {
    const again = { ...chain, id: "again" };
    const found = of([seen(slow, 38), seen(again, 985)]);
    expect(found.explanations[0]).toMatchObject({ kind: "as-designed" });
    expect(found.settled).toBe(true);
  });

  it("leaves every other rig as it is", () => {
    expect(designed(chain)).toBe(chain);
    expect(designed(reported("usb-10g")).settled).toHaveLength(1);
    expect(designed(slow)).toBe(designed(slow));
    expect(designed(slow).settled).toEqual([]);
  });
});
