import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { cable, drive, enclosure, hub, port, USB_10G, USB_5G } from "../testing/rigs";
import { whyNot } from "./fit";
import { linksOf } from "./link";
import { rigProblems } from "./rig";

const none = { before: [], after: [] };

describe("what can stand in a place", () => {
  it("is a host port at the start, and nowhere else", () => {
    expect(whyNot(none, port())).toBeNull();
    expect(whyNot(none, cable())).toMatch(/starts at a host port/);
    expect(whyNot({ before: [port()], after: [] }, port(USB_5G, "other"))).toMatch(/one host port/);
  });

  it("shares a mode with its neighbour, or the reason is said", () => {
    const after = { before: [port()], after: [] };
    expect(whyNot(after, enclosure())).toBeNull();
    expect(whyNot(after, drive())).toMatch(/port and drive have no mode in common/);
    expect(whyNot(after, cable(["sata-6g"], "odd"))).toMatch(/no mode|shares no mode/);
  });

  it("fits on both sides when it comes in between", () => {
    const between = { before: [port(), cable()], after: [enclosure(), drive()] };
    expect(whyNot(between, hub(USB_10G))).toBeNull();
    expect(whyNot(between, hub(["sata-6g"]))).not.toBeNull();
    expect(whyNot(between, cable(USB_5G, "K2"))).toMatch(/two cables/);
    expect(whyNot(between, drive({}, "d2"))).toMatch(/ends at its drive/);
  });

  it("does not stand there twice", () => {
    expect(whyNot({ before: [port(), cable()], after: [] }, cable())).toMatch(/already/);
  });

  it("leads to a rig whose links come up when only what fits is taken", () => {
    const shelf = [port(), cable(), cable(USB_5G, "K2"), hub(USB_5G), enclosure(), drive()];
    fc.assert(
      fc.property(fc.array(fc.nat(5), { maxLength: 12 }), (choices) => {
        const parts = choices.reduce<typeof shelf>((before, choice) => {
          const fitting = shelf.filter((part) => whyNot({ before, after: [] }, part) === null);
          const done = before.at(-1)?.kind === "drive" || fitting.length === 0;
          return done ? before : [...before, fitting[choice % fitting.length]!];
        }, []);
        expect(linksOf({ parts }).flatMap(({ problem }) => problem ?? [])).toEqual([]);
        if (parts.at(-1)?.kind === "drive") expect(rigProblems({ parts })).toEqual([]);
      }),
    );
  });
});
