import { describe, expect, it } from "vitest";
import { account } from "./account";
import { MODES, modeOf } from "./catalogue";

const ceiling = (id: string, direction: "read" | "write" = "read") =>
  account(modeOf(id), direction).hardCeiling;

describe("tunnels", () => {
  const tunnels = MODES.filter(({ family }) => family === "usb4" || family === "thunderbolt");

  it.each(tunnels.map((mode) => [mode.id, mode] as const))(
    "%s shows the outer link and the one inside",
    (_, mode) => {
      const { rows, lineRate, hardCeiling } = account(mode, "read");
      expect(rows.some(({ what }) => /tunnel packet/.test(what))).toBe(true);
      const inside = rows.find(({ what }) => /tunnelled link itself/.test(what))!;
      expect(hardCeiling).toBe(inside.mbps);
      expect(hardCeiling).toBeLessThan(lineRate);
    },
  );

  it("carry no more USB than the USB link itself", () => {
    expect(ceiling("usb4-40g-usb")).toBe(ceiling("usb-10g"));
    expect(ceiling("usb4-80g-usb")).toBe(ceiling("usb-20g"));
  });

  it("carry no more PCIe than the PCIe link inside", () => {
    const inner = account(modeOf("pcie-3.0-x4"), "read", { assumptions: { payload: 128 } });
    expect(ceiling("thunderbolt-3")).toBe(inner.hardCeiling);
    expect(ceiling("thunderbolt-2")).toBeLessThan(ceiling("thunderbolt-3"));
  });

  it("can be wider one way than the other", () => {
    const { lineRate: out } = account(modeOf("usb4-120g-40g-pcie"), "write");
    const { lineRate: back } = account(modeOf("usb4-120g-40g-pcie"), "read");
    expect(out / back).toBeCloseTo(3, 9);
  });
});

describe("hard ceilings", () => {
  // Rates, MB/s, that good hardware of the mode is known to reach: no ceiling may lie below them.
  it.each([
    ["usb-480m", 45],
    ["usb-5g", 465],
    ["usb-10g", 1090],
    ["usb-20g", 2130],
    ["sata-3g", 285],
    ["sata-6g", 565],
    ["pcie-3.0-x4", 3580],
    ["pcie-4.0-x4", 7450],
    ["pcie-5.0-x4", 14800],
    ["thunderbolt-3", 3000],
    ["usb4-40g-pcie", 3900],
    ["ethernet-1g", 117.5],
    ["ieee-1394-s400", 42],
    ["ieee-1394-s800", 88],
    ["pata-udma-5", 95],
    ["sd-sdr104", 98],
  ])("%s can carry %d", (id, known) => {
    expect(ceiling(id)).toBeGreaterThan(known);
    expect(account(modeOf(id), "read").attainable.high).toBeGreaterThan(known * 0.97);
  });
});

describe("what others hold", () => {
  it("comes off the outer link, so that a tunnel narrower than it loses nothing", () => {
    const free = account(modeOf("usb4-40g-usb"), "write");
    const little = account(modeOf("usb4-40g-usb"), "write", { held: 1000 });
    expect(little.hardCeiling).toBe(free.hardCeiling);
    const much = account(modeOf("usb4-40g-usb"), "write", { held: 4000 });
    expect(much.hardCeiling).toBeLessThan(free.hardCeiling);
    const [before, held] = much.rows.slice(2, 4);
    expect(held!.step).toBe("held");
    expect(before!.mbps - held!.mbps).toBeCloseTo(4000, 9);
  });

  it("comes off the payload of a link without a tunnel, and never leaves less than nothing", () => {
    const free = ceiling("usb-10g");
    expect(account(modeOf("usb-10g"), "read", { held: 400 }).hardCeiling).toBeCloseTo(
      free - 400,
      9,
    );
    expect(account(modeOf("usb-10g"), "read", { held: 9999 }).hardCeiling).toBe(0);
  });
});

describe("payloads in a tunnel", () => {
  const at = (id: string, payload: number) =>
    account(modeOf(id), "read", { assumptions: { payload } }).hardCeiling;

  it("count for the tunnel's packets and for the link inside alike", () => {
    const inner = account(modeOf("pcie-3.0-x4"), "read", { assumptions: { payload: 256 } });
    expect(at("thunderbolt-3", 256)).toBe(inner.hardCeiling);
    expect(at("usb4-40g-pcie", 256)).toBeGreaterThan(at("usb4-40g-pcie", 128));
    expect(ceiling("usb4-40g-pcie")).toBe(at("usb4-40g-pcie", 128));
    expect(ceiling("usb4-80g-pcie")).toBe(at("usb4-80g-pcie", 256));
  });
});
