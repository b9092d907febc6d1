import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fillOf } from "./ballast";
import { changeFor } from "./change";

const MIB = 2 ** 20;
const GIB = 2 ** 30;

describe("what ballast has to be written", () => {
  it("fills a file system to the level, counting what lies there already", () => {
    const change = changeFor(0.5, { free: 8 * GIB, total: 10 * GIB }, GIB, GIB);
    expect(change).toEqual({ bytes: 4 * GIB, write: 3 * GIB, remove: 0 });
  });

  it("takes ballast away where there is more than the level needs", () => {
    const change = changeFor(0.5, { free: 2 * GIB, total: 10 * GIB }, 7 * GIB, GIB);
    expect(change).toEqual({ bytes: 4 * GIB, write: 0, remove: 3 * GIB });
  });

  it("removes all of it at 0, however full the drive is of other files", () => {
    const change = changeFor(0, { free: 2 * GIB, total: 10 * GIB }, 3 * GIB, GIB);
    expect(change).toEqual({ bytes: 0, write: 0, remove: 3 * GIB });
  });

  it("says so where other files fill the drive beyond the level", () => {
    expect(changeFor(0.25, { free: 5 * GIB, total: 10 * GIB }, 0, GIB)).toMatch(/50.%/);
  });

  it("never takes from the reserve, whatever is asked", () => {
    const bytes = fc.integer({ min: 0, max: 4_000_000 }).map((mib) => mib * MIB);
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.tuple(bytes, bytes, bytes),
        bytes,
        (level, [free, held, others], reserve) => {
          const total = free + held + others;
          if (total === 0) return;
          const change = changeFor(level, { free, total }, held, reserve);
          if (typeof change === "string") return;
          const after = free + held - change.bytes;
          expect(after).toBeGreaterThanOrEqual(reserve);
          expect(held + change.write - change.remove).toBe(change.bytes);
          // The level is reached to one request, from below.
          const reached = fillOf({ free: after, total });
          expect(reached).toBeLessThanOrEqual(level + 1e-9);
          expect(reached).toBeGreaterThan(level - (2 * MIB) / total - 1e-9);
        },
      ),
    );
  });
});
