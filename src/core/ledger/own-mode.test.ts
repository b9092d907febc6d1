import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { part, rig } from "../testing/rigs";
import { linksOf } from "../chain/link";
import { PartDraft } from "../chain/part";
import { account } from "./account";
import { findMode, modeOf } from "./catalogue";
import { LINE_CODES } from "./line-code";
import { LineCodeId, LinkMode, TransportId } from "./mode";
import type { OwnMode } from "./own-mode";
import { describedMode, ownModeId } from "./own-mode";

const FJORD: OwnMode = {
  name: "Fjord link, 3 lanes",
  rate: 8,
  lanes: 3,
  code: "128b/130b",
  payload: 2048,
  overhead: 48,
  duplex: "half",
  shared: "yes",
  protocol: "scsi",
  low: 0.7,
  high: 0.9,
};

describe("a mode of the tester's own", () => {
  it("has the ceiling that its description gives", () => {
    const { lineRate, hardCeiling, attainable } = account(modeOf(ownModeId(FJORD)), "read");
    expect(lineRate).toBeCloseTo((3000 * 128) / 130, 9);
    expect(hardCeiling).toBeCloseTo((lineRate * 2048) / 2096, 9);
    expect(attainable).toEqual({ low: hardCeiling * 0.7, high: hardCeiling * 0.9 });
  });

  it("is whole in its identifier, whatever it says", () => {
    const own = fc.record({
      name: fc.string({ unit: "grapheme", minLength: 1, maxLength: 30 }).map((s) => `m${s.trim()}`),
      rate: fc.double({ min: 0.001, max: 1000, noNaN: true }),
      lanes: fc.integer({ min: 1, max: 32 }),
      code: fc.constantFrom(...LineCodeId.options),
      payload: fc.integer({ min: 1, max: 1e6 }),
      overhead: fc.integer({ min: 0, max: 1e6 }),
      duplex: fc.constantFrom("full" as const, "half" as const),
      shared: fc.constantFrom("yes" as const, "no" as const),
      protocol: fc.constantFrom(...TransportId.options),
      low: fc.double({ min: 0.01, max: 0.5, noNaN: true }),
      high: fc.double({ min: 0.5, max: 1, noNaN: true }),
    });
    fc.assert(
      fc.property(own, (mode) => {
        const id = ownModeId(mode);
        expect(id).not.toMatch(/\s/); // modes stand between spaces in a table
        expect(describedMode(id)).toEqual(mode);
        expect(() => LinkMode.parse(modeOf(id))).not.toThrow();
        const { lineRate } = account(modeOf(id), "write");
        expect(lineRate).toBeCloseTo(
          ((mode.rate * 1e3 * mode.lanes) / 8) * LINE_CODES[mode.code].share,
          6,
        );
      }),
    );
  });

  it("behaves like any other on a part and in a link", () => {
    const id = ownModeId(FJORD);
    const draft = {
      kind: "drive",
      name: "d",
      connectors: [{ side: "up", modes: [id, "sata-6g"] }],
    };
    expect(PartDraft.safeParse(draft).success).toBe(true);
    const [link] = linksOf(
      rig([
        part("host-port", "p", { down: ["sata-6g", id] }),
        part("drive", "d", { up: [id, "sata-6g"] }),
      ]),
    );
    expect(link!.mode?.name).toBe("Fjord link, 3 lanes");
  });

  it.each([
    ["nothing", ""],
    ["no rate", ownModeId({ ...FJORD, rate: 0 })],
    ["half a lane", ownModeId({ ...FJORD, lanes: 0.5 })],
    ["a band upside down", ownModeId({ ...FJORD, low: 0.9, high: 0.7 })],
    ["more than its ceiling", ownModeId({ ...FJORD, high: 1.5 })],
    ["a negative overhead", ownModeId({ ...FJORD, overhead: -1 })],
    ["an endless name", ownModeId({ ...FJORD, name: "n".repeat(700) })],
    ["a code there is none of", ownModeId(FJORD).replace("128b", "129b")],
  ])("is refused with %s", (_, id) => expect(findMode(id)).toBeNull());
});
