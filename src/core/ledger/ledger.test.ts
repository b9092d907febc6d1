import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { account } from "./account";
import { findMode, modeOf, MODES } from "./catalogue";
import { LinkMode } from "./mode";
import { statedModeId } from "./modes/stated";

const DIRECTIONS = ["read", "write"] as const;
const within = (got: number, want: number, share: number) =>
  expect(Math.abs(got - want) / want, `${got} against ${want}`).toBeLessThan(share);

describe("link ledger against figures derived by hand from the standards", () => {
  // [mode, line rate, hard ceiling, assumptions], MB/s
  it.each([
    ["usb-480m", 60, (13 * 512) / 125, {}],
    // 20 B header packet and 12 B around 1024 B, 2 skip symbols in 354
    ["usb-5g", 500, 500 * (1024 / 1056) * (352 / 354), {}],
    ["usb-10g", 10000 / 8.25, (10000 / 8.25) * (40 / 41) * (1024 / 1060), {}],
    ["usb-20g", 20000 / 8.25, (20000 / 8.25) * (40 / 41) * (1024 / 1060), {}],
    ["sata-3g", 300, 296, {}],
    ["sata-6g", 600, 592, {}],
    ["pcie-3.0-x4", 3938, 3790, {}],
    ["pcie-3.0-x4", 3938, 3650, { payload: 256 }],
    ["pcie-4.0-x1", 1969, 1895, {}],
    ["ethernet-1g", 125, (125 * 1448) / 1538, {}],
    ["ethernet-1g", 125, (125 * 8948) / 9038, { mtu: 9000 }],
    ["ethernet-2.5g", 312.5, (312.5 * 1448) / 1538, {}],
    ["ethernet-10g", 1250, (1250 * 1448) / 1538, {}],
    ["ethernet-40g", 5000, (5000 * 8948) / 9038, { mtu: 9000 }],
    ["usb-12m", 1.5, 19 * 0.064, {}],
    ["usb-10g-two-lane", 1000, 1000 * (1024 / 1056) * (352 / 354), {}],
    ["pcie-1.0-x1", 250, 250 * (512 / 532), {}],
    ["pcie-2.0-x4", 2000, 2000 * (128 / 148), { payload: 128 }],
    ["pcie-5.0-x4", 15754, 15754 * (512 / 532), {}],
    ["pcie-6.0-x16", 128000, 128000 * (236 / 256) * (512 / 524), {}],
    ["sas-6g", 600, 600 * (1024 / 1060), {}],
    ["sas-22.5g", 2400, 2400 * (1024 / 1060), {}],
    ["pata-pio-4", 16.67, 16.67, {}],
    ["pata-udma-5", 100, 100, {}],
    ["pata-udma-6", 133.3, 133.3, {}],
    ["ieee-1394-s400", 49.15, 48.0, {}],
    ["ieee-1394-s800", 98.3, 97.2, {}],
    ["sd-sdr104", 104, 102.2, {}],
    ["sd-uhs2-half", 312, 306, {}],
    ["usb4-20g-pcie", (2500 * 64) / 66, ((2500 * 64) / 66) * (128 / 150), {}],
    ["usb4-40g-pcie", (5000 * 128) / 132, ((5000 * 128) / 132) * (128 / 150), {}],
    ["thunderbolt-3", 5000, 3938 * (128 / 148), {}],
  ])("%s", (id, lineRate, ceiling, assumptions) => {
    const { lineRate: line, hardCeiling } = account(modeOf(id), "read", { assumptions });
    within(line, lineRate, 0.001);
    within(hardCeiling, ceiling, 0.005);
  });
});

describe("every mode", () => {
  it.each(MODES.map((mode) => [mode.id, mode] as const))("%s is sound", (_, mode) => {
    expect(() => LinkMode.parse(mode)).not.toThrow();
    for (const direction of DIRECTIONS) {
      for (const { id } of mode.transports) {
        const ledger = account(mode, direction, { transport: id });
        // Only what comes after the line code must not grow: PAM-3 puts more than a bit into a symbol.
        const rates = ledger.rows.slice(1, -1).map((row) => row.mbps);
        expect(rates).toEqual(rates.toSorted((a, b) => b - a));
        expect(ledger.hardCeiling).toBe(rates.at(-1));
        expect(ledger.attainable.low).toBeGreaterThan(0);
        expect(ledger.attainable.low).toBeLessThanOrEqual(ledger.attainable.high);
        expect(ledger.attainable.high).toBeLessThanOrEqual(ledger.hardCeiling);
        expect(ledger.rows.every(({ source }) => source.length > 3)).toBe(true);
      }
    }
  });

  it("has a name of its own", () => {
    expect(new Set(MODES.map(({ id }) => id)).size).toBe(MODES.length);
    expect(new Set(MODES.map(({ name }) => name)).size).toBe(MODES.length);
  });

  it("carries n times one lane on n lanes", () => {
    for (const version of ["3.0", "4.0"]) {
      const ceiling = (lanes: number) =>
        account(modeOf(`pcie-${version}-x${lanes}`), "read").hardCeiling;
      within(ceiling(4), 4 * ceiling(1), 1e-9);
    }
  });
});

describe("assumptions", () => {
  it("let a larger payload carry more, never more than the line rate", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 64, max: 4096 }),
        fc.integer({ min: 1, max: 4096 }),
        (payload, more) => {
          const at = (bytes: number) =>
            account(modeOf("pcie-3.0-x4"), "read", { assumptions: { payload: bytes } });
          expect(at(payload + more).hardCeiling).toBeGreaterThan(at(payload).hardCeiling);
          expect(at(payload).hardCeiling).toBeLessThan(at(payload).lineRate);
        },
      ),
    );
  });

  it("refuse what the mode does not have and what leaves no payload", () => {
    const set = (assumptions: Record<string, number>) => () =>
      account(modeOf("ethernet-1g"), "read", { assumptions });
    expect(set({ payload: 256 })).toThrow(/mtu/);
    expect(set({ mtu: 52 })).toThrow(RangeError);
    expect(set({ mtu: -1 })).toThrow(RangeError);
  });
});

describe("stated links", () => {
  it("carry what is stated", () => {
    const { hardCeiling, lineRate } = account(modeOf(statedModeId(40)), "write");
    expect(hardCeiling).toBeCloseTo(40, 9);
    expect(lineRate).toBeCloseTo(40, 9);
  });
  it.each(["stated-", "stated-0", "stated--4", "stated-1e9", "stated-fast", "stated-99999999"])(
    "refuse %s",
    (id) => expect(findMode(id)).toBeNull(),
  );
});
