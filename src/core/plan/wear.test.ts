import { describe, expect, it } from "vitest";
import { defineFrom, programOf } from "../drills/drill";
import { laidOutBytes } from "../run/program";
import { drive, enclosure, port, rig } from "../testing/rigs";
import { runBytes, wearOf, wearWords } from "./wear";

const read = defineFrom({ name: "haul", direction: "read" }, null);
const write = defineFrom({ name: "haul", direction: "write" }, null);
const disk = drive({ read: 1000, write: 500 }, "Talus");
const on = (name: string, part = disk) => rig([port(), enclosure(), part], name);

describe("what a plan writes", () => {
  it("is what is laid out, and what the path carries in the time", () => {
    expect(runBytes(read, 500)).toBe(laidOutBytes(programOf(read)));
    const seconds = programOf(write).reduce(
      (sum, step) => sum + (step.do === "flow" ? step.leadIn + (step.seconds ?? 0) : 0),
      0,
    );
    expect(runBytes(write, 500)).toBeGreaterThanOrEqual(seconds * 500e6);
    expect(runBytes(write, 1000) - runBytes(write, 500)).toBeCloseTo(seconds * 500e6, -3);
  });

  it("adds up by drive over rigs and repeats, against its endurance", () => {
    const worn = { ...disk, enduranceBytes: 1e15 };
    const once = wearOf([on("A", worn)], [write], 1);
    const all = wearOf([on("A", worn), on("B", worn)], [write], 3);
    expect(all).toHaveLength(1);
    expect(all[0]!.bytes).toBeCloseTo(6 * once[0]!.bytes, 0);
    expect(all[0]!.share).toBeCloseTo(all[0]!.bytes / 1e15, 12);
    expect(wearWords(all)).toMatch(/writes at most .* GB to Talus, .*% of its rated endurance/);
    expect(wearWords(wearOf([on("A")], [write], 1))).not.toMatch(/endurance/);
  });

  it("is nothing where nothing is laid out or written", () => {
    expect(wearWords(wearOf([], [write], 1))).toBe("");
  });
});
