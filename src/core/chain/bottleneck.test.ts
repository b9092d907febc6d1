import { describe, expect, it } from "vitest";
import { summarise } from "../stats/repeats";
import {
  cable,
  drive,
  enclosure,
  hub,
  port,
  rig,
  statedRig,
  USB_20G,
  USB_5G,
} from "../testing/rigs";
import { findingOf } from "../locate/findings/finding";
import { linkProblems, bottleneckOf, nextBottleneck } from "./bottleneck";

const around = (mbps: number) => summarise([mbps * 0.998, mbps, mbps * 1.002]);
const names = (parts: { name: string }[] = []) => parts.map(({ name }) => name);

describe("the bottleneck", () => {
  const slow = rig([port(), cable(USB_5G, "K2"), enclosure(), drive()]);
  it("is the lowest stage, and names the part that makes it so", () => {
    const bottleneck = bottleneckOf(slow, "read")!;
    expect(names(bottleneck.culprits)).toEqual(["K2"]);
    expect(bottleneck.stageKeys).toEqual(["K2:cable"]);
    expect(bottleneck.link?.mode?.id).toBe("usb-5g");
  });

  it("gives way to the next one when it is removed", () => {
    const next = nextBottleneck(slow, "read")!;
    expect(names(next.culprits)).toEqual(["box"]);
    expect(next.link?.mode?.id).toBe("usb-10g");
  });

  it("can be the drive itself", () => {
    const bottleneck = bottleneckOf(
      rig([port(), cable(), enclosure(), drive({ read: 200 })]),
      "read",
    )!;
    expect(bottleneck).toMatchObject({ ceiling: 200, link: null });
    expect(names(bottleneck.culprits)).toEqual(["drive"]);
  });

  it("is nothing known where the drive's rate is not", () => {
    const open = rig([port(), cable(), enclosure(), drive({})]);
    expect(names(bottleneckOf(open, "read")!.culprits)).toEqual(["box"]);
  });

  it("is the hub where the hub is slow", () => {
    const parts = [port(), cable(), hub(["usb-480m"]), cable(USB_20G, "K7"), enclosure(), drive()];
    const bottleneck = bottleneckOf(rig(parts), "read")!;
    expect(names(bottleneck.culprits)).toEqual(["hub"]);
  });

  it("is a dead link where one will not come up", () => {
    const dead = rig([port(["sata-6g"]), enclosure(), drive()]);
    expect(bottleneckOf(dead, "read")!.ceiling).toBe(0);
    expect(linkProblems(dead)).toHaveLength(1);
    expect(findingOf(dead, "read", around(100))).toBeNull();
  });
});

describe("a measured rate", () => {
  it("within a tenth of a stated link is at that bottleneck", () => {
    for (const mbps of [39.2, 39.9, 40.2]) {
      const finding = findingOf(statedRig(40), "read", around(mbps))!;
      expect(finding.kind).toBe("at bottleneck");
      expect(finding.efficiency).toBeCloseTo(mbps / 40, 6);
    }
  });

  it("above the ceiling is a finding, not a success", () => {
    expect(findingOf(statedRig(40), "read", around(60))!.kind).toBe("above");
  });

  it("far below everything is left unexplained, with the mode it looks like", () => {
    const whole = rig([port(), cable(), enclosure(), drive()]);
    const finding = findingOf(whole, "read", around(430))!;
    expect(finding.kind).toBe("below");
    expect(finding.looksLike?.id).toBe("usb-5g");
    expect(findingOf(whole, "read", around(700))!.looksLike).toBeNull();
  });

  it("names what lies close to the bottleneck", () => {
    const close = rig([port(), cable(), enclosure(), drive({ read: 1150 })]);
    expect(findingOf(close, "read", around(1050))!.near).toContain("drive");
  });
});
