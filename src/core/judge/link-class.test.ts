import { describe, expect, it } from "vitest";
import type { Claim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { BriefMeasurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, part, PCIE, port, rig, USB_20G, USB_5G } from "../testing/rigs";
import { box, judge, wide } from "./testing/judging";

describe("a link class", () => {
  const link = (gbps: number): Claim => ({ kind: "link", gbps });
  const B = box("B", [link(10)]);
  const own = rig([port(), cable(), B, drive()], "own");
  const control = rig([port(), cable(), wide, drive()], "control");
  const kindOf = (rigs: Rig[], runs: BriefMeasurement[]) => judge(rigs, runs)[0]!;

  it("is delivered by a run that lies in what such a link attains", () => {
    expect(kindOf([own], [measured(own, around(1000))]).kind).toBe("Delivers");
  });

  it("is not delivered by what a slower mode gives too where other runs show that it was one", () => {
    // Without queueing a link of 20 Gb/s gives what one of 10 Gb/s may give too.
    const P = { ...port(), claims: [link(20)] };
    const W = { ...wide, limits: {} };
    const through = (name: string, from: Part, more = {}) =>
      rig([from, cable(), W, drive()], name, more);
    const unqueued = through("unqueued", P, { transport: "usb-unqueued" });
    const queued = through("queued", P);
    const other = through("other port", port(USB_20G, "other"));
    const open = kindOf([unqueued], [measured(unqueued, around(700))]);
    expect(open.kind).toBe("Can't tell yet");
    expect(open.settle[0]!.ask!.rig).toEqual({ like: unqueued.id, transport: "usb-queued" });
    // More than that only the faster one gives, with queueing or without.
    expect(kindOf([unqueued], [measured(unqueued, around(1200))]).kind).toBe("Delivers");
    // It is delivered where somebody saw the link come up so.
    const settled = [{ partId: "wide", mode: "usb-20g", by: "system" as const }];
    const reported = { ...unqueued, settled };
    expect(kindOf([reported], [measured(reported, around(700))]).kind).toBe("Delivers");
    const suspected = kindOf(
      [unqueued, queued, other],
      [
        measured(unqueued, around(560)),
        measured(queued, around(1000)),
        measured(other, around(1900)),
      ],
    );
    expect(suspected.kind).toBe("Falls short in this combination");
  });

  it("is missed where all else carried more, or all runs together put it down to the part", () => {
    const found = kindOf(
      [own, control],
      [measured(own, around(440)), measured(control, around(1500))],
    );
    expect(found).toMatchObject({ kind: "Falls short in this combination", rig: { name: "own" } });
    expect(found.shortBy).toBeGreaterThan(0.4);
    expect(found.reasons.join(" ")).toMatch(/440.* a link of 10 Gb\/s .* attains at least/);
    // The system's word alone, that the link came up slower, does not say whose doing that is.
    const settled = [{ partId: "B", mode: "usb-5g", by: "system" as const }];
    const reported = { ...own, settled };
    expect(kindOf([reported], [measured(reported, around(440))]).kind).toBe("Can't tell yet");
  });

  it("is open where something else held it back, and where no part ran such a link", () => {
    expect(kindOf([own], [measured(own, around(440))]).kind).toBe("Can't tell yet");
    const slow = rig([port(), cable(USB_5G, "old"), B, drive()], "slow");
    expect(kindOf([slow], [measured(slow, around(440))])).toMatchObject({
      kind: "Can't tell yet",
      shortBy: null,
      settle: [{ text: expect.stringMatching(/whose other parts run 10 Gb\/s too/) }],
    });
  });

  it("is that of the plug, not of the slot behind it: beyond the plug it is impossible, and open", () => {
    const lies = {
      ...part("enclosure", "lies", { up: USB_5G, down: PCIE.slice(0, 2) }),
      claims: [link(10)],
    };
    const there = rig([port(), cable(), lies, drive()], "there");
    const found = kindOf(
      [there, control],
      [measured(there, around(440)), measured(control, around(2000))],
    );
    expect(found).toMatchObject({ kind: "Can't tell yet", shortBy: null });
    expect(found.impossible[0]).toMatch(/more than its fastest mode signals/);
    const K = { ...cable(USB_20G, "K"), claims: [link(20)] };
    const through = rig([port(), K, wide, drive()], "through");
    const other = rig([port(), cable(), wide, drive()], "other");
    const runs = [measured(through, around(900)), measured(other, around(1900))];
    expect(kindOf([through, other], runs).kind).toBe("Falls short in this combination");
  });

  it("is not missed by a drive that cannot fill it", () => {
    const disk = drive({}, "disk");
    const [there, elsewhere] = [
      rig([port(), cable(), B, disk], "there"),
      rig([port(), cable(), wide, disk], "elsewhere"),
    ];
    const runs = [measured(there, around(210)), measured(elsewhere, around(211))];
    expect(kindOf([there, elsewhere], runs).kind).toBe("Can't tell yet");
  });
});
