import { describe, expect, it } from "vitest";
import { PartDraft, PartKind } from "@/core/chain/part";
import { drive, enclosure } from "@/core/testing/rigs";
import { draftFrom, emptyPart, errorsOf, typedFrom } from "./part-draft";
import { TEMPLATES } from "./templates";

const NOT_PRINTED = { over: "", block: "", depth: "" };

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
      claims: [
        { ...NOT_PRINTED, kind: "link" as const, direction: "read" as const, value: "10" },
        { ...NOT_PRINTED, kind: "peak" as const, direction: "write" as const, value: "-3" },
      ],
      capacity: "big",
      price: "1",
      currency: "euro",
    };
    const issues = PartDraft.safeParse(draftFrom(typed)).error!.issues;
    const errors = errorsOf(issues.map(({ path, message }) => ({ path: path.join("."), message })));
    expect(Object.keys(errors).sort()).toEqual(
      ["capacity", "claims.1", "connectors.1", "currency", "ownRead"].sort(),
    );
  });

  it("starts from generic parts that are sound, for every kind", () => {
    for (const template of TEMPLATES) {
      const draft = { kind: template.kind, name: template.name, connectors: template.connectors };
      expect(PartDraft.safeParse(draft).success, template.name).toBe(true);
    }
    const kinds = new Set(TEMPLATES.map(({ kind }) => kind));
    expect(PartKind.options.filter((kind) => !kinds.has(kind))).toEqual([]);
  });
});
