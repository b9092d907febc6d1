import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { Conditions } from "../run/result";
import type { BriefMeasurement } from "../study/measurement";
import { answered } from "../testing/answered";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_5G } from "../testing/rigs";

const study = { tolerance: 0.05, smallestEffect: 0.03 };
const claim = { direction: "read", kind: "peak", mbps: 1000 } as const;
const box = enclosure([claim], "Serac");
const a = rig([port(), cable(undefined, "K5"), box, drive()], "a");
const b = rig([port(), cable(USB_5G, "K2"), box, drive()], "b");
const answer = (rigs: Rig[], ...measurements: BriefMeasurement[]) =>
  answered(study, rigs, measurements, "read");

describe("the next step", () => {
  it("is what is missing first, in the order of the work", () => {
    expect(answer([]).next?.go).toEqual({ kind: "rigs" });
    expect(answer([a, b]).next?.go).toMatchObject({ kind: "measure", rigId: "a" });
    expect(answer([a, b], measured(a, around(1043))).next?.go).toEqual({
      kind: "measure",
      rigId: "b",
      direction: "read",
    });
    expect(answer([a], measured(a, around(1043))).next?.go).toEqual({ kind: "rigs" });
  });

  it("proposes no rig for this drill that was measured by another one alone", () => {
    const other = measured(b, around(40), { drill: { name: "scatter" } });
    expect(answer([a, b], measured(a, around(1043)), other).next).toBeNull();
  });

  it("asks for repeats of what was measured once", () => {
    const { next } = answer([a, b], measured(a, [1043]), measured(b, [447]));
    expect(next?.go).toMatchObject({ kind: "measure", rigId: "a" });
  });

  it("is to repeat a run that other programs spoiled", () => {
    const busy = { conditions: { io: "direct", busiestCoreBefore: 0.95 } as Conditions };
    const spoiled = measured(b, around(447), { ...busy, result: { busiestCore: 1 } });
    const told = answer([a, b], measured(a, around(1043)), spoiled);
    expect(told.rigs[1]!.observation!.cautions.join()).toMatch(/other programs .* repeat/);
    expect(told.next).toMatchObject({
      text: expect.stringMatching(/^Repeat rig B/),
      go: { kind: "measure", rigId: "b", direction: "read" },
    });
  });

  it("is none where nothing is open", () => {
    const told = answer([a, b], measured(a, around(1043)), measured(b, around(447)));
    expect(told.next).toBeNull();
    expect(told.told.map(({ next }) => next)).toEqual([null]);
  });

  it("is the swap that tells most of what is open, with its minutes, for all rigs that it tells of", () => {
    const till = enclosure([], "Till");
    const inside = (id: string) => ({ ...drive(), id, name: id });
    const slow = ["D1", "D2"].map((id) =>
      rig([port(), cable(undefined, "K5"), till, inside(id)], `till ${id}`),
    );
    const fast = rig([port(), cable(undefined, "K6"), box, inside("D1")], "fast");
    const told = answer(
      [fast, ...slow],
      measured(fast, around(1043)),
      ...slow.map((one) => measured(one, around(593))),
    );
    expect(told.groups[0]!.kind).not.toBe("designed");
    expect(told.next?.go.kind).toBe("swap");
    expect(told.next!.minutes).toBeGreaterThanOrEqual(0);
    expect(told.next!.why).toMatch(/^for rigs B and C/);
    expect(told.told[0]!.next?.text).toBe(told.next!.text);
  });

  it("asks for what would settle a claim once all rigs are explained", () => {
    const slow = enclosure([{ ...claim, mbps: 2000 }], "Wide");
    const c = rig([port(), cable(undefined, "K5"), slow, drive()], "c");
    const told = answer([c, b], measured(c, around(1043)), measured(b, around(447)));
    expect(told.verdicts[0]!.kind).toBe("Can't tell yet");
    expect(["judge", "swap"]).toContain(told.next!.go.kind);
    expect(told.next!.why).toMatch(/Wide/);
  });
});
