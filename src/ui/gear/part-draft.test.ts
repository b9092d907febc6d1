import { describe, expect, it } from "vitest";
import { PartDraft } from "@/core/chain/part";
import { drive, enclosure } from "@/core/testing/rigs";
import { draftFrom, emptyPart, errorsOf, typedFrom } from "./part-draft";

describe("a part in the form", () => {
  it("comes out as it went in", () => {
    const part = {
      ...enclosure([
        { direction: "read", kind: "peak", mbps: 1000 },
        { direction: "write", kind: "sustained", mbps: 950 },
        { kind: "link", gbps: 10 },
        { kind: "iops", direction: "read", iops: 90_000 },
        { kind: "peak", direction: "read", mbps: 450, over: "usb", block: 2 ** 20, depth: 8 },
      ]),
      capacityBytes: 512 * 2 ** 30,
      price: { amount: 59.5, currency: "EUR" },
      chip: "B-10",
      firmware: "1.2",
      lengthM: 0.8,
      enduranceBytes: 600e12,
    };
    expect(PartDraft.parse(draftFrom(typedFrom(part)))).toEqual(PartDraft.parse(part));
  });

  it("shows a round capacity as people say it", () => {
    expect(typedFrom({ ...drive(), capacityBytes: 1e12 }).capacity).toBe("1 TB");
    expect(typedFrom({ ...drive(), capacityBytes: 1_000_204_886_016 }).capacity).toBe(
      "1000204886016",
    );
    expect(typedFrom(drive()).capacity).toBe("");
  });

  it("tells which field is wrong, whatever was typed", () => {
    const typed = {
      ...emptyPart("enclosure"),
      name: "Box",
      connectors: [
        { side: "up" as const, modes: ["usb-5g"] },
        { side: "down" as const, modes: [] },
      ],
      ownRead: "fast",
      claims: "10 Gb/s, write 3 parsecs",
      length: "short",
      endurance: "long",
      capacity: "big",
      price: "1",
      currency: "euro",
    };
    const issues = PartDraft.safeParse(draftFrom(typed)).error!.issues;
    const errors = errorsOf(issues.map(({ path, message }) => ({ path: path.join("."), message })));
    expect(Object.keys(errors).sort()).toEqual(
      ["capacity", "connectors.1", "currency", "endurance", "length", "ownRead"].sort(),
    );
  });
});
