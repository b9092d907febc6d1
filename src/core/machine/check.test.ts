import { describe, expect, it } from "vitest";
import { conclude } from "../conclude/conclusions";
import { usualDrill } from "../drills/shape";
import { preflight } from "../preflight/preflight";
import { Step } from "../run/program";
import { blankStep } from "../run/step";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, USB_10G } from "../testing/rigs";
import { staleWords } from "./check-words";
import {
  checkedSteps,
  checkProgram,
  LARGE_BLOCK,
  mostOf,
  shownTo,
  SMALL_BLOCK,
  type MachineCheck,
} from "./check";

/** A check in which every request of a size was moved at so many MB/s. */
const check = (large: number, small = 100): MachineCheck => ({
  machine: "laptop",
  at: "2026-12-01T10:00:00.000Z",
  kernel: "6.18",
  steps: checkedSteps(
    [1, 1.01].map((factor) =>
      checkProgram().map((input) => {
        const step = Step.parse(input);
        if (step.do !== "flow") throw new Error("a check is made of flows");
        const mbps = (step.block === LARGE_BLOCK ? large : small) * factor * Math.sqrt(step.depth);
        return {
          ...blankStep("flow", step.label),
          meanMBps: mbps,
          bytes: mbps * 2e6,
          ms: 2000,
          requests: (mbps * 2e6) / step.block,
        };
      }),
    ),
  ),
});

const usb = {
  ...rig([port(USB_10G), cable(USB_10G, "K1"), enclosure(), drive({})], "usb"),
  host: "laptop",
};

describe("what a machine was shown to carry without any drive", () => {
  it("is asked of large and small requests, one and many in flight, both ways", () => {
    const { steps } = check(1000);
    const keys = steps.map(({ block, depth, direction }) => `${block} ${depth} ${direction}`);
    expect(new Set(keys).size).toBe(12);
    expect(steps.every(({ mbps }) => mbps.length === 2)).toBe(true);
    expect(mostOf(check(1000), LARGE_BLOCK, "read")!.depth).toBe(16);
    expect(mostOf(check(1000), SMALL_BLOCK, "write")!.iops[0]).toBeCloseTo(
      (100 * Math.sqrt(32) * 1e6) / SMALL_BLOCK,
    );
  });

  it("counts for requests of that size with as many in flight, and for no others", () => {
    const of = (block: number, depth: number) =>
      shownTo(check(1000), { block, depth }, "read")?.median ?? null;
    expect(of(LARGE_BLOCK, 16)).toBeCloseTo(4020);
    expect(of(LARGE_BLOCK, 5)).toBeCloseTo(2010);
    expect(of(LARGE_BLOCK, 64)).toBeCloseTo(4020);
    expect(of(1 << 20, 16)).toBeNull();
  });

  it("is asked for again after another kernel", () => {
    expect(staleWords(check(1), "6.18")).toBeNull();
    expect(staleWords(check(1), null)).toBeNull();
    expect(staleWords(check(1), "6.19")).toContain("6.19");
  });

  it("warns before a run whose path could carry more", () => {
    const surroundings = {
      facts: { kind: "directory" as const, room: 1e12 },
      report: null,
      memory: false,
      space: null,
      shared: { system: false, own: false },
      busy: { drive: null, core: null, seconds: 1 },
      onBattery: null,
      lastWrite: null,
      targets: 1,
    };
    const found = (of: MachineCheck | null) =>
      preflight(usb, usualDrill("haul", "read"), { ...surroundings, check: of } as never);
    expect(found(check(50)).map(({ level }) => level)).toEqual(["beware"]);
    expect(found(check(5000))).toEqual([]);
    expect(found(null)).toEqual([]);
  });

  it("clears the machine up to that, and no other machine", () => {
    const host = (checks: MachineCheck[]) =>
      conclude({ rigs: [usb], measurements: [measured(usb, around(400))], tolerance: 0.1, checks })
        .locatedIn("haul", "read")[0]!
        .explanations.filter(({ place }) => place.includes('"host"'))
        .reduce((sum, { probability }) => sum + probability, 0);
    const before = host([]);
    expect(before).toBeGreaterThan(0.03);
    expect(host([check(1000)])).toBeLessThan(before / 4);
    expect(host([{ ...check(1000), machine: "desk" }])).toBe(before);
    // As slow in its own memory as with the drive: it stays suspected.
    expect(host([check(100)])).toBeGreaterThan(before / 2);
  });
});
