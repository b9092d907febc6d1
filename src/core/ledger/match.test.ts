import { describe, expect, it } from "vitest";
import { account } from "./account";
import { MODES } from "./catalogue";
import { modesHolding } from "./match";

describe("what link a rate looks like", () => {
  it("finds 5 Gb/s USB at 452 MB/s, and nothing whose band does not hold it", () => {
    const found = modesHolding(452, MODES, "read");
    expect(found.map(({ mode }) => mode.id)).toContain("usb-5g");
    for (const { low, high, off } of found) {
      expect(low).toBeLessThanOrEqual(452);
      expect(high).toBeGreaterThanOrEqual(452);
      expect(off).toBeLessThanOrEqual(1);
    }
    expect(found[0]!.mode.id).toBe("usb-5g");
  });

  it("puts links with their usual protocol first, and of those the best fit", () => {
    const found = modesHolding(452, MODES, "read");
    const usual = found.filter(({ mode, transport }) => mode.transports[0]!.id === transport);
    expect(usual.length).toBeLessThan(found.length);
    expect(found.slice(0, usual.length)).toEqual(usual);
    const off = usual.map((match) => match.off);
    expect(off).toEqual(off.toSorted((a, b) => a - b));
  });

  it("puts a mode first at the middle of its own band among equals", () => {
    for (const mode of MODES) {
      const { low, high } = account(mode, "read").attainable;
      const ids = modesHolding((low + high) / 2, [mode], "read").map((match) => match.mode.id);
      expect(ids).toEqual([mode.id]);
    }
  });

  it("finds nothing beyond every link", () => {
    expect(modesHolding(1e7, MODES, "read")).toEqual([]);
  });
});
