import { describe, expect, it } from "vitest";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { faultsIn } from "./faults";
import type { Fault } from "./model";

const [serac, till] = [
  { ...enclosure([], "Serac"), id: "serac" },
  { ...enclosure([], "Till"), id: "till" },
];
const k7 = { ...cable(undefined, "K7"), id: "k7" };
const k5 = { ...cable(undefined, "K5"), id: "k5" };
const known = (fault: Fault) => [
  { rig: rig([port(), k7, serac, drive()], "known"), faults: [fault] },
];

describe("the faults of a rig that nobody named", () => {
  it("come with the cable that drops or shakes a link, whatever hangs on it", () => {
    for (const kind of ["dropped", "flaky"] as const) {
      const faults = known({ kind, at: "serac" });
      expect(faultsIn(rig([port(), k7, till, drive()], "other"), faults)).toEqual([
        { kind, at: "till" },
      ]);
      expect(faultsIn(rig([port(), k5, serac, drive()], "without"), faults)).toEqual([]);
    }
  });

  it("of another part come with that part and the one above it", () => {
    const slot = known({ kind: "wrong-slot", at: drive().id });
    expect(faultsIn(rig([port(), k5, serac, drive()], "same box"), slot)).toHaveLength(1);
    expect(faultsIn(rig([port(), k7, till, drive()], "other box"), slot)).toEqual([]);
  });

  it("are those that were named, where they were", () => {
    const faults = known({ kind: "memory" });
    expect(faultsIn(faults[0]!.rig, faults)).toEqual([{ kind: "memory" }]);
    expect(faultsIn(rig([port(), k7, serac, drive()], "twin"), faults)).toEqual([]);
  });
});
