import { describe, expect, it } from "vitest";
import {
  areFarDrivesIdle,
  busiestDrive,
  isFarDriveFull,
  movedLines,
  type FarReading,
} from "../run/far-host";
import { isHostFull } from "../run/host-load";
import type { Reading } from "../run/result";
import { IN_MB } from "../units/number";
import { farLoadOf } from "./far-load";
import { keptOf } from "./kept";

const reading = (ms: number, cores: number[], busy = 0.5, read = 40): Reading => ({
  ms,
  engine: null,
  machine: null,
  celsius: {},
  far: {
    host: "router",
    cores,
    memory: 0.3,
    moved: {
      sda: { kind: "device", read, written: 0, busy },
      eth0: { kind: "interface", read: 1, written: 44, busy: null },
    },
  } satisfies FarReading,
});

describe("what a far host did over a run", () => {
  it("is its busiest core on the whole, and the mean of what each drive and interface moved", () => {
    const load = farLoadOf([
      reading(1000, [20, 90]),
      reading(2000, [60, 100]),
      reading(3000, [100, 98]),
    ])!;
    expect(load).toMatchObject({ host: "router", seconds: 3, memory: 0.3 });
    expect(load.core).toEqual({ number: 1, now: 0.98, mean: expect.closeTo(0.96), peak: 1 });
    expect(load.moved.sda).toEqual({ kind: "device", read: 40, written: 0, busy: 0.5 });
    expect(isHostFull(load)).toBe(false);
    expect(isHostFull(farLoadOf([reading(1000, [99]), reading(2000, [98])])!)).toBe(true);
  });

  it("leaves out what was before the run, and is none where too little was seen", () => {
    expect(farLoadOf([])).toBeNull();
    expect(farLoadOf([reading(200, [100]), reading(1200, [10])])).toBeNull();
    expect(
      farLoadOf([reading(-500, [100]), reading(1200, [10]), reading(2200, [10])])!.core!.mean,
    ).toBeCloseTo(0.1);
  });

  it("is kept with the result only where somebody looked", () => {
    const plain: Reading = { ms: 1500, engine: 0.1, machine: 0.2, celsius: {} };
    expect(keptOf([plain, plain])).toEqual({});
    expect(keptOf([plain, reading(1600, [5]), reading(2600, [5])]).farHost!.host).toBe("router");
  });

  it("tells a drive that never stood idle from one that had time, and says nothing where none moved", () => {
    const of = (busy: number, read?: number) =>
      farLoadOf([reading(1000, [5], busy, read), reading(2000, [5], busy, read)])!;
    expect([isFarDriveFull(of(0.99)), areFarDrivesIdle(of(0.99))]).toEqual([true, false]);
    expect([isFarDriveFull(of(0.2)), areFarDrivesIdle(of(0.2))]).toEqual([false, true]);
    expect([isFarDriveFull(of(0.7)), areFarDrivesIdle(of(0.7))]).toEqual([false, false]);
    const cached = of(0, 0);
    expect(busiestDrive(cached)).toBeNull();
    expect([isFarDriveFull(cached), areFarDrivesIdle(cached)]).toEqual([false, false]);
  });

  it("lists what moved most first, a drive's reading and an interface's receiving", () => {
    const [first, second] = movedLines(farLoadOf([reading(1000, [5]), reading(2000, [5])])!, IN_MB);
    expect(first).toMatch(/^eth0 received .*, sent /);
    expect(second).toMatch(/^sda read .*, wrote /);
  });
});
