import { readFileSync } from "node:fs";
import path from "node:path";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { PartDraft } from "../chain/part";
import { cable, drive, enclosure, port, USB_5G } from "../testing/rigs";
import { ShelfFile, shelfFileSchema } from "./shelf";
import { csvToParts, shelfToCsv } from "./shelf-csv";

const draft = (part: PartDraft & { id?: string }) => PartDraft.parse({ ...part, id: undefined });
const shelf = [
  port(),
  cable(USB_5G, "K2"),
  enclosure([
    { direction: "read", kind: "sustained", mbps: 1000 },
    { kind: "iops", direction: "write", iops: 80_000 },
    { kind: "link", gbps: 10 },
    { direction: "read", kind: "peak", mbps: 900, over: "usb" },
    { direction: "read", kind: "peak", mbps: 400, over: "usb-5g", block: 2 ** 20, depth: 8 },
    { kind: "iops", direction: "write", iops: 60_000, block: 4096, depth: 1 },
  ]),
  {
    ...enclosure([], "two sockets"),
    serial: "S-1",
    connectors: [
      { side: "up" as const, modes: USB_5G, shape: "usb-c" as const },
      { side: "up" as const, modes: ["sata-3g"], shape: "esata" as const },
      { side: "down" as const, modes: ["sata-6g"] },
    ],
  },
  {
    ...cable(USB_5G, "K9"),
    connectors: [
      {
        side: "through" as const,
        modes: USB_5G,
        shape: "usb-a" as const,
        farShape: "usb-c" as const,
      },
    ],
  },
  {
    ...drive(),
    requestUs: { read: 62 },
    capacityBytes: 1e12,
    price: { amount: 89.5, currency: "EUR" },
  },
].map(draft);

describe("the shelf as a file", () => {
  it("comes back from JSON as it was, and has a schema", () => {
    const file = { format: "nerrit-shelf", version: 1, parts: shelf };
    expect(ShelfFile.parse(JSON.parse(JSON.stringify(file))).parts).toEqual(shelf);
    const published = path.resolve(import.meta.dirname, "../../../docs/shelf.schema.json");
    expect(JSON.parse(readFileSync(published, "utf8"))).toEqual(shelfFileSchema());
  });

  it("comes back from CSV as it was", () => {
    expect(csvToParts(shelfToCsv(shelf)).map((part) => PartDraft.parse(part))).toEqual(shelf);
  });

  it("keeps any name through CSV, and lets none be a formula", () => {
    const name = fc
      .string({ unit: "grapheme", minLength: 1, maxLength: 40 })
      .filter((typed) => PartDraft.safeParse({ ...cable(), name: typed }).success);
    const risky = fc.constantFrom("=1+1", "@sum", "+1", "-1", "'quoted", 'a"b', "a,b");
    fc.assert(
      fc.property(fc.oneof(name, risky), (typed) => {
        const part = draft({ ...cable(), name: typed });
        const csv = shelfToCsv([part]);
        expect(PartDraft.parse(csvToParts(csv)[0]).name).toBe(part.name);
        expect(csv.split("\r\n")[1]).not.toMatch(/^cable,"?[=+\-@]/);
      }),
    );
  });

  it("keeps the lines of notes apart, through CSV too", () => {
    const part = draft({ ...cable(), notes: 'two\nlines, quoted "so"' });
    expect(PartDraft.parse(csvToParts(shelfToCsv([part]))[0])).toEqual(part);
  });

  it("refuses a table without the columns it needs", () => {
    expect(() => csvToParts("a,b\n1,2\n")).toThrow(RangeError);
    expect(() => csvToParts("")).toThrow(RangeError);
  });

  it("hands nonsense to the schema, which names the field", () => {
    const [part] = csvToParts("kind,name,modes_up,own_read_mbps\ndrive,D,warp-9,fast\n");
    const paths = PartDraft.safeParse(part).error!.issues.map(({ path }) => path.join("."));
    expect(paths).toContain("connectors.0.modes.0");
    expect(paths).toContain("limits.read");
  });
});
