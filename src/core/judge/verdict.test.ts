import { describe, expect, it } from "vitest";
import type { RateClaim } from "../chain/claim";
import { summarise } from "../stats/repeats";
import { cable, drive, enclosure, part, PCIE, port, rig, USB_10G, USB_5G } from "../testing/rigs";
import { impossibleClaim } from "./impossible";
import { judgeClaim } from "./verdict";

const claim: RateClaim = { direction: "read", kind: "peak", mbps: 1000 };
const box = enclosure([claim]);
const wide = rig([port(), cable(), box, drive()], "wide");
const around = (mbps: number) => summarise([mbps * 0.997, mbps, mbps * 1.003]);
const judge = (mbps: number | null, through = wide, tolerance?: number) =>
  judgeClaim(
    box,
    claim,
    [{ rig: through, observed: mbps === null ? null : around(mbps) }],
    tolerance,
  );

describe("verdict", () => {
  it("delivers at the claim, and within the tolerance below it", () => {
    expect(judge(1040).kind).toBe("Delivers");
    expect(judge(970).kind).toBe("Delivers");
    expect(judge(970, wide, 0.01).kind).not.toBe("Delivers");
  });

  it("falls short by what is missing when everything else carries the claim", () => {
    const verdict = judge(700);
    expect(verdict.kind).toBe("Falls short");
    expect(verdict.shortBy).toBeCloseTo(0.3, 6);
  });

  it("blames no enclosure that was not challenged", () => {
    const slowCable = rig([port(), cable(USB_5G, "K2"), box, drive()]);
    const slowDrive = rig([port(), cable(), box, drive({ read: 560 })]);
    const unknownDrive = rig([port(), cable(), box, drive({})]);
    const slowPort = rig([port(USB_10G), cable(), box, drive()]);
    for (const through of [slowCable, slowDrive, unknownDrive, slowPort]) {
      const verdict = judge(430, through);
      expect(verdict.kind).toBe("Can't tell yet");
      expect(verdict.wouldSettle.length).toBeGreaterThan(0);
    }
    expect(judge(430, slowCable).reasons.join()).toMatch(/K2/);
  });

  it("needs an interval, and one that lies on one side", () => {
    const once = judgeClaim(box, claim, [{ rig: wide, observed: summarise([1040]) }]);
    expect(once.kind).toBe("Can't tell yet");
    const wobbly = summarise([900, 960, 1020]);
    expect(judgeClaim(box, claim, [{ rig: wide, observed: wobbly }]).kind).toBe("Can't tell yet");
    expect(judge(null).kind).toBe("Can't tell yet");
  });

  it("is not fooled by a rate that no link could carry", () => {
    expect(judge(2400).kind).toBe("Can't tell yet");
  });

  it("takes the rig that settles it", () => {
    const slow = { rig: rig([port(), cable(USB_5G), box, drive()], "slow"), observed: around(430) };
    const fast = { rig: wide, observed: around(1040) };
    const verdict = judgeClaim(box, claim, [slow, fast]);
    expect(verdict).toMatchObject({ kind: "Delivers", rigId: "wide" });
  });

  it("calls out a claim beyond the part's own link before anything is measured", () => {
    const boast = part("enclosure", "boast", { up: USB_5G, down: PCIE }, { claims: [claim] });
    expect(impossibleClaim(boast, claim)).toHaveLength(1);
    expect(impossibleClaim(box, claim)).toHaveLength(0);
  });
});
