import { describe, expect, it } from "vitest";
import type { Stretch } from "./tally";
import { copyOf, type Side } from "./waits";

const side = (name: string, readMBps: number, writeMBps: number, busy: number | null): Side => ({
  name,
  stretch: { readMBps, writeMBps, busy } as Stretch,
});

describe("which side of a copy waits", () => {
  it("is the one that stands still while the other has work all the time", () => {
    const slowEnd = copyOf([side("sdb", 40, 0, 0.3), side("sdc", 0, 41, 0.99)]);
    expect(slowEnd).toMatchObject({ from: "sdb", to: "sdc", waitsFor: "sdc" });
    const slowSource = copyOf([side("sdb", 40, 0, 0.97), side("sdc", 0, 41, 0.5)]);
    expect(slowSource!.waitsFor).toBe("sdb");
  });

  it("is the one that takes most of the time where both work in turns", () => {
    const turns = copyOf([side("sdb", 40, 0, 0.13), side("sdc", 0, 40, 0.72)]);
    expect(turns!.waitsFor).toBe("sdc");
    expect(turns!.why).toMatch(/in turns/);
  });

  it("is not guessed where both work all the time, both stand still, or nothing is counted", () => {
    for (const [a, b] of [
      [0.95, 0.95],
      [0.4, 0.4],
      [0.1, 0.3],
      [0.8, 0.95],
      [null, 0.95],
    ] as const) {
      const told = copyOf([side("sdb", 40, 0, a), side("sdc", 0, 40, b)]);
      expect(told!.waitsFor).toBeNull();
      expect(told!.why).not.toBe("");
    }
  });

  it("sees no copy in one drive, in drives at rest, or in rates that do not go together", () => {
    expect(copyOf([side("sdb", 40, 40, 1)])).toBeNull();
    expect(copyOf([side("sdb", 0.1, 0, 0), side("sdc", 0, 0.1, 0)])).toBeNull();
    expect(copyOf([side("sdb", 200, 0, 1), side("sdc", 0, 20, 1)])).toBeNull();
  });
});
