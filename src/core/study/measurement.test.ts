import { describe, expect, it } from "vitest";
import { HAUL } from "../drills/drill";
import type { Conditions, RunResult } from "../drills/result";
import { statedRig } from "../testing/rigs";
import { observe, type Measurement } from "./measurement";

const result = (meanMBps: number, more: Partial<RunResult> = {}): RunResult => ({
  meanMBps,
  bytes: 1e8,
  ms: 1000,
  requests: 10,
  latencyUs: { p50: 1, p95: 1, p99: 1, p999: 1, max: 1 },
  deviceBytes: 1e8,
  processorUsPerRequest: 1,
  busiestCore: 0.2,
  ...more,
});

const measurement = (
  id: string,
  results: (RunResult | null)[],
  more: Partial<Measurement> = {},
): Measurement => ({
  id,
  rigId: "r",
  drill: { ...HAUL, direction: "read" },
  target: "/x",
  status: "done",
  reason: null,
  createdAt: "",
  rig: statedRig(40),
  conditions: { io: "direct" } as Conditions,
  runs: results.map((r, repeat) => ({
    id: `${id}${repeat}`,
    repeat,
    status: r ? "done" : "interrupted",
    result: r,
    samples: [],
  })),
  ...more,
});

describe("what was seen of a rig", () => {
  it("pools repeats of the same drill on the same parts", () => {
    const seen = observe(
      [measurement("b", [result(40)]), measurement("a", [result(41), null])],
      "read",
    )!;
    expect(seen.repeats.values).toEqual([40, 41]);
  });

  it("keeps another drill, another way to the device and another rig apart", () => {
    const latest = measurement("new", [result(40)]);
    const others = [
      measurement("drill", [result(1)], { drill: { ...HAUL, direction: "read", block: 4096 } }),
      measurement("io", [result(2)], { conditions: { io: "buffered" } as Conditions }),
      measurement("rig", [result(3)], { rig: { ...statedRig(40), transport: "nvme" } }),
      measurement("way", [result(4)], { drill: { ...HAUL, direction: "write" } }),
    ];
    expect(observe([latest, ...others], "read")!.repeats.values).toEqual([40]);
    expect(observe(others, "write")!.repeats.values).toEqual([4]);
  });

  it("is nothing where no run was finished", () => {
    expect(observe([measurement("a", [null])], "read")).toBeNull();
    expect(observe([], "read")).toBeNull();
  });

  it.each([
    ["buffered", { conditions: { io: "buffered" } as Conditions }, {}],
    ["fewer bytes on the device", {}, { deviceBytes: 5e7 }],
    ["more bytes on the device", {}, { deviceBytes: 2e8 }],
    ["a busy core", {}, { busiestCore: 0.99 }],
  ])("is flagged for %s", (_, more, odd) => {
    expect(observe([measurement("a", [result(40, odd)], more)], "read")!.cautions).toHaveLength(1);
  });

  it("is not flagged for nothing", () => {
    expect(observe([measurement("a", [result(40)])], "read")!.cautions).toEqual([]);
    const none = result(40, { deviceBytes: null, busiestCore: null });
    expect(observe([measurement("a", [none])], "read")!.cautions).toEqual([]);
  });
});
