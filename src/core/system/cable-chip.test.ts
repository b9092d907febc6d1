import { describe, expect, it } from "vitest";
import { PartDraft } from "../chain/part";
import { findMode } from "../ledger/catalogue";
import { cableFromChip, chipWords, readCableChip, type CableIdentity } from "./cable-chip";

/** A cable's words put together field by field (USB Power Delivery 3.1, Discover Identity). */
const PASSIVE = 3;
const ACTIVE = 4;
const header = (product: number, maker = 0) => ((product << 27) | (3 << 21) | maker) >>> 0;
const cableWord = (speed: number, { amperes = 1, volts = 0, plug = 2, latency = 1 } = {}) =>
  ((plug << 18) | (latency << 13) | (volts << 9) | (amperes << 5) | speed) >>> 0;
const read = (more: Partial<CableIdentity>) =>
  readCableChip({
    type: null,
    revision: "3.0",
    idHeader: header(PASSIVE),
    vdo1: cableWord(1),
    vdo2: 0,
    ...more,
  });

describe("a cable's chip", () => {
  it.each([
    [0, ["usb-480m"]],
    [1, ["usb-480m", "usb-5g", "usb-10g-two-lane"]],
    [2, ["usb-480m", "usb-5g", "usb-10g-two-lane", "usb-10g", "usb-20g", "usb4-20g-pcie"]],
  ])("says at speed %i what it carries", (speed, modes) => {
    expect(read({ vdo1: cableWord(speed) })!.modes).toEqual(modes);
  });

  it("carries ever more with a higher speed, in modes that the ledger knows", () => {
    const each = [0, 1, 2, 3, 4].map((speed) => read({ vdo1: cableWord(speed) })!.modes!);
    each.slice(1).forEach((modes, i) => expect(modes).toEqual(expect.arrayContaining(each[i]!)));
    for (const mode of each.at(-1)!) expect(findMode(mode), mode).not.toBeNull();
    expect(each[3]).toContain("usb4-40g-pcie");
    expect(each[3]).not.toContain("usb4-80g-pcie");
  });

  it("says current, voltage, how long it takes, and who made it", () => {
    const chip = read({
      idHeader: header(PASSIVE, 0x1a2b),
      vdo1: cableWord(2, { amperes: 2, volts: 3, latency: 4 }),
    })!;
    expect(chip).toMatchObject({ amperes: 5, volts: 50, latencyNs: 40, makerId: 0x1a2b });
    expect(chip.active).toBe(false);
    expect(chipWords(chip)).toMatch(/^passive, .*5 A, 50 V, at most 40 ns .*maker 1a2b$/);
  });

  it("knows an active cable by its header or the driver's word, and what its second word leaves out", () => {
    const oneLane = 0;
    const twoLanes = 1 << 3;
    const noUsb4 = 1 << 8;
    const optical = 1 << 10;
    const active = (vdo2: number) =>
      read({ idHeader: header(ACTIVE), vdo1: cableWord(2), vdo2: (vdo2 | 1) >>> 0 })!;
    expect(active(twoLanes)).toMatchObject({ active: true, optical: false });
    expect(active(twoLanes).modes).toContain("usb-20g");
    expect(active(oneLane).modes).toEqual(["usb-480m", "usb-5g", "usb-10g"]);
    expect(active(twoLanes | noUsb4).modes).not.toContain("usb4-20g-pcie");
    expect(active(twoLanes | optical).optical).toBe(true);
    expect(read({ type: "active", idHeader: header(0) })!.active).toBe(true);
    expect(read({ idHeader: header(0) })!.active).toBeNull();
  });

  it("of revision 2.0 has no voltage, and no meaning for speeds of later revisions", () => {
    expect(read({ revision: "2.0" })).toMatchObject({ volts: null });
    expect(read({ revision: "2.0", vdo1: cableWord(3) })).toMatchObject({ modes: null });
    expect(read({ revision: "3.1", vdo1: cableWord(7) })).toMatchObject({ modes: null });
    expect(read({ revision: "3.1", vdo1: cableWord(7) })!.speed).toMatch(/no meaning/);
  });

  it("that has not answered says nothing", () => {
    expect(read({ idHeader: 0 })).toBeNull();
    expect(read({ vdo1: 0 })).toBeNull();
  });

  it("makes a part, unless it is fixed to its device or says nothing that is known", () => {
    const part = PartDraft.parse(cableFromChip(read({})!));
    expect(part.connectors[0]!.modes).toEqual(["usb-480m", "usb-5g", "usb-10g-two-lane"]);
    expect(cableFromChip(read({ vdo1: cableWord(1, { plug: 3 }) })!)).toBeNull();
    expect(cableFromChip(read({ vdo1: cableWord(7) })!)).toBeNull();
  });
});
