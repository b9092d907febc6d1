import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { stagesOf } from "../chain/stages";
import { drive, port, rig } from "../testing/rigs";
import type { MachineCheck } from "./check";
import { ceilingText, lowestOf, machineShown, machineStage } from "./machine-stage";

const step = { direction: "read" as const, block: 512 * 1024, depth: 16 };
const check: MachineCheck = {
  machine: "lab2",
  at: "2026-11-30T10:00:00.000Z",
  kernel: "6.1",
  steps: [{ ...step, mbps: [5000, 5200], iops: [1, 1] }],
};
const haul = usualDrill("haul", "read");
const on = (host: string) => ({ host });

describe("the host as a stage", () => {
  it("is what it was shown to move by the same requests, and never less than a rig of it gave", () => {
    expect(machineShown([check], on("Lab2"), haul, null)).toEqual({ machine: "lab2", mbps: 5100 });
    expect(machineShown([check], on("lab2"), haul, 6000)!.mbps).toBe(6000);
    expect(machineShown([check], on("lab2"), haul, 400)!.mbps).toBe(5100);
  });

  it("is not there for another machine, another way or requests that were not asked for", () => {
    expect(machineShown([check], on("desk"), haul, null)).toBeNull();
    expect(machineShown([check], on(""), haul, null)).toBeNull();
    expect(machineShown([], on("lab2"), haul, null)).toBeNull();
    expect(machineShown([check], on("lab2"), usualDrill("haul", "write"), null)).toBeNull();
    expect(machineShown([check], on("lab2"), usualDrill("scatter", "read"), null)).toBeNull();
  });

  it("is written as the least that is known, and foretells no bottleneck", () => {
    const host = machineStage({ machine: "lab2", mbps: 5 }, "read");
    const parts = stagesOf(rig([port(), drive()]), "read");
    const rate = (mbps: number) => String(mbps);
    expect(ceilingText(host, rate)).toBe("≥ 5");
    expect(ceilingText({ role: "drive", ceiling: 5 }, rate)).toBe("5");
    expect(lowestOf([host, null, ...parts])).toBe(lowestOf(parts));
  });
});
