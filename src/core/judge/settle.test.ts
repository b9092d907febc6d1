import { describe, expect, it } from "vitest";
import {
  cable,
  drive,
  enclosure,
  part,
  PCIE,
  port,
  rig,
  USB_10G,
  USB_20G,
  USB_5G,
} from "../testing/rigs";
import { linksOf } from "../chain/link";
import { another, drivenAsUsual, measureIt, putInto } from "./settle";

const asking = { shows: "peak", direction: "read" } as const;
const box = enclosure([], "box");
const through = rig([port(), cable(), box, drive()], "r");
const wide = part("enclosure", "wide", { up: USB_20G, down: PCIE });

describe("a step that would settle a verdict", () => {
  it("measures a rig with the drill that shows the claim", () => {
    expect(measureIt("again", through, asking).ask).toEqual({
      rig: { like: "r" },
      drill: "haul",
      direction: "read",
    });
    const long = measureIt("long", through, { shows: "sustained", direction: "write" });
    expect(long.ask?.drill).toBe("long-fill");
    // No drill reads for long: nothing is promised that cannot be done.
    expect(measureIt("long", through, { shows: "sustained", direction: "read" }).ask).toBeNull();
  });

  it("takes from the shelf what lets most through, and never what stands there already", () => {
    const slow = part("enclosure", "slow", { up: USB_5G, down: PCIE });
    const { text, ask } = another(box, through, 1000, "why", {
      shelf: [slow, box, wide],
      asking,
    });
    expect(text).toMatch(/Put wide .* in place of box, why/);
    expect(ask?.rig.parts).toEqual(["port", "cable", "wide", "drive"]);
  });

  it("says what to borrow where nothing on the shelf could", () => {
    const slow = part("enclosure", "slow", { up: USB_5G, down: PCIE });
    const { text, ask } = another(box, through, 1000, "why", { shelf: [slow], asking });
    expect(text).toMatch(/borrow one/);
    expect(ask).toBeNull();
  });

  it("holds a link to what was seen of it only as long as its parts stay", () => {
    const dropped = {
      ...through,
      settled: [{ partId: "box", mode: "usb-5g", by: "system" as const }],
    };
    const other = cable(USB_10G, "K9");
    expect(
      another(through.parts[1]!, dropped, 900, "why", { shelf: [other], asking }).ask,
    ).not.toBeNull();
    expect(
      another(through.parts[3]!, dropped, 900, "why", { shelf: [drive({}, "D2")], asking }).ask,
    ).toBeNull();
  });

  it("drives a link as usual, where it is not driven so already", () => {
    const [link] = linksOf(through);
    expect(drivenAsUsual(through, link!, "", asking)).toBeNull();
    const unqueued = { ...through, transport: "usb-unqueued" as const };
    const found = drivenAsUsual(unqueued, link!, ", to see", asking)!;
    expect(found.text).toMatch(/^Measure r driven by .*, to see\.$/);
    expect(found.ask?.rig).toEqual({ like: "r", transport: "usb-queued" });
  });

  it("puts a part that stands nowhere in place of one of its kind", () => {
    expect(putInto(wide, [through], asking).ask?.rig).toEqual({
      like: "r",
      parts: ["port", "cable", "wide", "drive"],
    });
    expect(
      putInto(part("hub", "H", { up: USB_5G, down: USB_5G }), [through], asking).ask,
    ).toBeNull();
  });
});
