import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import {
  cable,
  drive,
  enclosure,
  hub,
  port,
  rig,
  statedRig,
  USB_10G,
  USB_5G,
} from "../../testing/rigs";
import { gridOver } from "./grid";
import { ledgerCapacity, mostOf } from "./ledger-capacity";

const haul = usualDrill("haul", "read");
const grid = gridOver(10, 5000);
const [P, K, B, D] = [port(USB_10G), cable(USB_10G, "K"), enclosure(), drive()];
const capacity = (parts: Parameters<typeof rig>[0], drill = haul) =>
  ledgerCapacity(rig(parts), drill, "read", grid)!;
const sumOf = (values: Float64Array) => values.reduce((sum, value) => sum + value, 0);
/** Chance that a rig runs between two rates. */
const between = ({ density }: { density: Float64Array }, low: number, high: number) =>
  sumOf(density.filter((_, i) => grid.rates[i]! >= low && grid.rates[i]! <= high));

describe("what the ledger of a rig lets through", () => {
  const usb = capacity([P, K, B, D]);

  it("is a band below its hard ceiling, and adds up to one", () => {
    expect(sumOf(usb.density)).toBeCloseTo(1, 6);
    expect(usb.least).toBeGreaterThan(900);
    expect(usb.most).toBeLessThan(usb.ceiling);
    expect(between(usb, usb.least * 0.9, usb.ceiling)).toBeGreaterThan(0.98);
    // The chance to reach a rate falls with it.
    usb.reaches.forEach((value, i) => expect(value).toBeLessThanOrEqual(usb.reaches[i - 1] ?? 1));
  });

  it("is put down to the link by the part at its end towards the drive, or to a part's own limit", () => {
    const [first] = usb.by.toSorted((a, b) => sumOf(b.density) - sumOf(a.density));
    expect(first!.at).toEqual({ ledger: "box" });
    const slowDrive = capacity([P, K, B, drive({ read: 210 })]);
    const [own] = slowDrive.by.toSorted((a, b) => sumOf(b.density) - sumOf(a.density));
    expect(own!.at).toEqual({ ledger: "drive" });
    expect(between(slowDrive, 180, 215)).toBeGreaterThan(0.9);
  });

  it("is no more with a slower part in it, wherever that stands", () => {
    for (const parts of [
      [P, cable(USB_5G, "old"), B, D],
      [P, K, hub(USB_5G), cable(USB_10G, "K2"), B, D],
    ]) {
      const slower = capacity(parts);
      expect(slower.most).toBeLessThan(500);
      expect(slower.most).toBeLessThan(usb.most);
      expect(sumOf(slower.density)).toBeCloseTo(1, 6);
    }
  });

  it("is put down to the driver's mode where another would get more out of the link", () => {
    const slow = { ...rig([P, K, B, D]), transport: "usb-unqueued" as const };
    const found = ledgerCapacity(slow, haul, "read", grid)!;
    const [first] = found.by.toSorted((a, b) => sumOf(b.density) - sumOf(a.density));
    expect(first!.at).toEqual({ condition: "transport" });
    expect(found.most).toBeLessThan(usb.least);
  });

  it("is vague for small requests, whose time is known to a factor, and less then", () => {
    const small = capacity([P, K, B, D], usualDrill("scatter", "read"));
    expect(small.requests).toMatchObject({ block: 4096, depth: 24 });
    expect(usb.requests).toBeNull();
    expect(small.least / small.most).toBeLessThan(usb.least / usb.most);
    expect(sumOf(small.density)).toBeCloseTo(1, 6);
  });

  it("is nothing where a link does not come up", () => {
    const unlike = rig([port(["sata-6g"]), K, B, D]);
    expect(ledgerCapacity(unlike, haul, "read", grid)).toBeNull();
    expect(mostOf(unlike, haul, "read")).toBeNull();
  });

  it("is the same as its most, asked for by itself", () => {
    for (const one of [rig([P, K, B, D]), statedRig(130)])
      expect(mostOf(one, haul, "read")).toBe(ledgerCapacity(one, haul, "read", grid)!.most);
  });
});
