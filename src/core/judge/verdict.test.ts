import { describe, expect, it } from "vitest";
import { answered } from "../testing/answered";
import type { RateClaim } from "../chain/claim";
import type { Rig } from "../chain/rig";
import type { Conditions } from "../run/result";
import type { BriefMeasurement, Measurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, part, PCIE, port, rig, USB_20G, USB_5G } from "../testing/rigs";
import { impossibleClaim } from "./impossible";
import type { Verdict } from "./verdict";

const claim: RateClaim = { direction: "read", kind: "peak", mbps: 1000 };
const box = enclosure([claim], "box");
const wide = rig([port(), cable(), box, drive()], "wide");
/** The same path with a faster box in it: what it reaches clears port, cable and drive. */
const fast = part("enclosure", "fast", { up: USB_20G, down: PCIE });
const control = rig([port(), cable(), fast, drive()], "control");

const judge = (
  measurements: BriefMeasurement[],
  rigs: Rig[] = [wide],
  { tolerance = 0.05, claimed = claim }: { tolerance?: number; claimed?: RateClaim } = {},
) => {
  const study = { id: "s", title: "t", tolerance, smallestEffect: 0.03 };
  const measuredToo = measurements.map(({ rig }) => rig);
  const standing = [...rigs, ...measuredToo].filter(
    (one, i, all) => all.findIndex(({ id }) => id === one.id) === i,
  );
  const judged = standing.map((one) => ({
    ...one,
    parts: one.parts.map((p) => (p.id === "box" ? { ...p, claims: [claimed] } : p)),
  }));
  const { verdicts } = answered(study, judged, measurements, "read");
  return verdicts[0]!;
};

const settles = ({ settle }: Verdict) => settle.map(({ text }) => text).join();

describe("verdict", () => {
  it("delivers at the claim, and within the tolerance below it", () => {
    expect(judge([measured(wide, around(1040))]).kind).toBe("Delivers");
    expect(judge([measured(wide, around(970))]).kind).toBe("Delivers");
    expect(judge([measured(wide, around(970))], [wide], { tolerance: 0.01 }).kind).not.toBe(
      "Delivers",
    );
  });

  it("falls short by what is missing where runs have shown all the rest to carry more", () => {
    const verdict = judge([measured(wide, around(700)), measured(control, around(1900))]);
    expect(verdict.kind).toBe("Falls short in this combination");
    expect(verdict.shortBy).toBeCloseTo(0.3, 6);
  });

  it("takes no run of a rig that was taken out of the study for a proof", () => {
    const study = { id: "s", title: "t", tolerance: 0.05, smallestEffect: 0.03 };
    const runs = [measured(wide, around(700)), measured(control, around(1900))];
    const verdictAmong = (rigs: Rig[]) => answered(study, rigs, runs, "read").verdicts[0]!.kind;
    expect(verdictAmong([wide, control])).toBe("Falls short in this combination");
    expect(verdictAmong([wide])).toBe("Can't tell yet");
  });

  it("accuses no enclosure because the other parts say that they could do more", () => {
    const plain = rig([port(), box, drive()], "plain");
    const verdict = judge([measured(plain, around(57))], [plain]);
    expect(verdict.kind).toBe("Can't tell yet");
    expect(verdict.reasons.join()).toMatch(/no run shows that port, drive/);
    expect(settles(verdict)).toMatch(/another enclosure in place of box/);
  });

  it.each<[string, Measurement]>([
    ["a rate that is not clearly above the claim", measured(control, around(1010))],
    ["a single run", measured(control, [1900])],
    ["another direction", measured(control, around(1900), { direction: "write" })],
    ["memory", measured(control, around(1900), { conditions: { io: "buffered" } as Conditions })],
    ["more than the link can carry", measured(control, around(5000))],
    [
      "another drive",
      measured(rig([port(), cable(), fast, drive({}, "other")], "o"), around(1900)),
    ],
    [
      "another file system",
      measured(rig([port(), cable(), fast, drive()], "o", { fileSystem: "xfs" }), around(1900)),
    ],
  ])("is not shown by %s", (_, run) => {
    const through = { ...wide, fileSystem: "ext4" };
    expect(judge([measured(through, around(700)), run], [through]).kind).toBe("Can't tell yet");
  });

  it("takes each part's best showing, from whatever rig", () => {
    const parts = [
      rig([port(), cable(), fast, drive({}, "other")], "for port and cable"),
      rig([port(USB_20G, "p2"), fast, drive()], "for the drive"),
    ];
    const runs = [measured(wide, around(700)), ...parts.map((one) => measured(one, around(1500)))];
    expect(judge(runs).kind).toBe("Falls short in this combination");
  });

  it("blames nobody for what the ledger of the rig does not let through", () => {
    const slowCable = rig([port(), cable(USB_5G, "K2"), box, drive()]);
    const slowDrive = rig([port(), cable(), box, drive({ read: 560 })]);
    const dropped = rig([port(), cable(), box, drive()], "rig", {
      settled: [{ partId: "box", mode: "usb-5g", by: "system" }],
    });
    for (const through of [slowCable, slowDrive, dropped]) {
      const verdict = judge(
        [measured(through, around(430)), measured(control, around(1900))],
        [through],
      );
      expect(verdict.kind).toBe("Can't tell yet");
      expect(verdict.settle.length).toBeGreaterThan(0);
    }
    expect(judge([measured(slowCable, around(430))], [slowCable]).reasons.join()).toMatch(/K2/);
  });

  it("asks for another driver mode where the one at hand gets no more out of the link", () => {
    const unqueued = { ...wide, id: "unqueued", transport: "usb-unqueued" as const };
    const verdict = judge([measured(unqueued, around(600))], [unqueued]);
    expect(verdict.kind).toBe("Can't tell yet");
    expect(verdict.settle[0]!.ask!.rig).toEqual({ like: "unqueued", transport: "usb-queued" });
  });

  it("does not hold a rig against a part that has carried more elsewhere", () => {
    const better = rig([port(USB_20G, "p2"), cable(USB_20G, "K9"), box, drive()], "better");
    const runs = [
      measured(wide, around(600)),
      measured(better, around(850)),
      measured(control, around(1900)),
    ];
    const verdict = judge(runs, [wide, better]);
    expect(verdict.kind).toBe("Can't tell yet");
    expect(judge([runs[0]!, runs[2]!], [wide]).kind).toBe("Falls short in this combination");
  });

  it("needs an interval, and one that lies on one side", () => {
    expect(judge([measured(wide, [1040])]).kind).toBe("Can't tell yet");
    expect(judge([measured(wide, [900, 960, 1020])]).kind).toBe("Can't tell yet");
    expect(judge([]).kind).toBe("Can't tell yet");
  });

  it("is not fooled by a rate that no link could carry, or that memory answered", () => {
    expect(judge([measured(wide, around(2400))]).kind).toBe("Can't tell yet");
    const buffered = { conditions: { io: "buffered" } as Conditions };
    expect(judge([measured(wide, around(1040), buffered)]).kind).toBe("Can't tell yet");
  });

  it("does not take a short run for a sustained rate", () => {
    const claimed: RateClaim = { ...claim, kind: "sustained" };
    expect(judge([measured(wide, around(1040))], [wide], { claimed }).kind).toBe("Can't tell yet");
    const runs = [measured(wide, around(700)), measured(control, around(1900))];
    expect(judge(runs, [wide], { claimed }).kind).toBe("Falls short in this combination");
  });

  it("takes the rig that settles it", () => {
    const slow = rig([port(), cable(USB_5G), box, drive()], "slow");
    const runs = [measured(slow, around(430)), measured(wide, around(1040))];
    expect(judge(runs, [slow, wide])).toMatchObject({ kind: "Delivers", rig: { id: "wide" } });
  });

  it("calls out a claim beyond the part's own link before anything is measured", () => {
    const boast = part("enclosure", "boast", { up: USB_5G, down: PCIE }, { claims: [claim] });
    expect(impossibleClaim(boast, claim)).toHaveLength(1);
    expect(impossibleClaim(box, claim)).toHaveLength(0);
  });
});
