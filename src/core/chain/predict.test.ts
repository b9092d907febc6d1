import { describe, expect, it } from "vitest";
import { PREDICTED_DRILLS } from "../drills/shape";
import { bottleneckOf } from "./bottleneck";
import { cable, drive, enclosure, part, port, rig, USB_20G } from "../testing/rigs";
import { predict } from "./predict";
import { requestTimes } from "./request-time";

const [HAUL, SINGLE, BUSY] = PREDICTED_DRILLS;
const timed = { ...drive(), requestUs: { read: 60, write: 20 } };
const usb = rig([port(), cable(), enclosure(), timed]);
const slotted = rig([part("host-port", "slot", { down: ["pcie-3.0-x4"] }), timed]);

describe("predicted drills", () => {
  it("bring large blocks to the bottleneck, and small ones nowhere near it", () => {
    const bottleneck = bottleneckOf(usb, "read")!.ceiling;
    expect(predict(usb, "read", HAUL!)!.mbps).toBe(bottleneck);
    expect(predict(usb, "read", SINGLE!)!.mbps).toBeLessThan(bottleneck / 10);
  });

  it("hold small requests to the time they take along the way", () => {
    const { mbps, overheadUs, rate } = predict(usb, "read", SINGLE!)!;
    expect(overheadUs).toBe(requestTimes(usb, "read").reduce((sum, { us }) => sum + us, 0));
    expect(mbps).toBeCloseTo(4096 / (overheadUs + 4096 / rate), 9);
    expect(overheadUs).toBeGreaterThan(predict(slotted, "read", SINGLE!)!.overheadUs);
  });

  it("gain from depth only where the driver can queue", () => {
    const gain = (r: typeof usb) =>
      predict(r, "read", BUSY!)!.mbps / predict(r, "read", SINGLE!)!.mbps;
    expect(gain(usb)).toBeCloseTo(24, 0);
    expect(gain({ ...usb, transport: "usb-unqueued" })).toBe(1);
    const stick = rig([port(["usb-480m"]), part("drive", "stick", { up: USB_20G })]);
    expect(gain(stick)).toBe(1);
    expect(gain({ ...stick, transport: "usb-queued" })).toBeGreaterThan(1);
  });

  it("count one protocol once, through however many hubs, and each of several", () => {
    const hub = part("hub", "hub", { up: USB_20G, down: USB_20G });
    const through = rig([port(), hub, enclosure(), timed]);
    expect(predict(through, "read", SINGLE!)!.overheadUs).toBe(
      predict(usb, "read", SINGLE!)!.overheadUs,
    );
    const copy = { ...usb, other: slotted.parts };
    expect(predict(copy, "read", SINGLE!)!.overheadUs).toBeGreaterThan(
      predict(usb, "read", SINGLE!)!.overheadUs,
    );
  });

  it("say whether the drive's own time is in them", () => {
    expect(predict(usb, "read", SINGLE!)!.whole).toBe(true);
    expect(predict({ ...usb, other: [slotted.parts[0]!, drive()] }, "read", SINGLE!)!.whole).toBe(
      false,
    );
    const unknown = rig([port(), cable(), enclosure(), drive()]);
    expect(predict(unknown, "read", SINGLE!)!.whole).toBe(false);
  });

  it("are not made for a rig that will not link", () => {
    expect(predict(rig([port(["usb-5g"]), drive()]), "read", HAUL!)).toBeNull();
  });
});
