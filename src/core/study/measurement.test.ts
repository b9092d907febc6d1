import { describe, expect, it } from "vitest";
import type { Conditions, RunResult } from "../run/result";
import { measured } from "../testing/measured";
import { cable, drive, enclosure, port, rig, statedRig } from "../testing/rigs";
import { observationsOf, observe } from "./measurement";

const stated = statedRig(40);
const as = (more: Partial<Conditions>) => ({ conditions: { io: "direct", ...more } as Conditions });
const seen = (...measurements: Parameters<typeof observationsOf>[0]) =>
  observationsOf(measurements);

describe("what was seen of a rig", () => {
  it("pools repeats of the same drill on the same parts", () => {
    const all = seen(measured(stated, [40]), measured(stated, [41, null]));
    expect(all).toHaveLength(1);
    expect(observe(all, stated, "read")!.repeats.values).toEqual([40, 41]);
  });

  it("keeps another drill, another way to the device, another origin and another rig apart", () => {
    const all = seen(
      measured(stated, [40]),
      measured(stated, [1], { drill: { block: 4096 } }),
      measured(stated, [2], as({ io: "buffered" })),
      measured(stated, [5], { origin: "simulated" }),
      measured({ ...stated, transport: "nvme" }, [3]),
      measured(stated, [4], { direction: "write" }),
      measured(stated, [6], { origin: "watched" }),
    );
    expect(all.map(({ repeats }) => repeats.values)).toEqual([[40], [1], [2], [5], [3], [4]]);
    expect(observe(all, stated, "read")!.repeats.values).toEqual([40]);
    expect(observe(all, stated, "write")!.repeats.values).toEqual([4]);
  });

  it("is nothing where no run was finished", () => {
    expect(observe(seen(measured(stated, [null])), stated, "read")).toBeNull();
    expect(observe([], stated, "read")).toBeNull();
  });

  it("is of the parts that stood in the rig then, not of those exchanged for them since", () => {
    const before = rig([port(), cable(undefined, "K2"), enclosure(), drive()], "r");
    const now = rig([port(), cable(undefined, "K5"), enclosure(), drive()], "r");
    const all = seen(measured(before, [447]));
    expect(observe(all, now, "read")).toBeNull();
    expect(observe(all, before, "read")!.repeats.median).toBe(447);
  });

  const odd: [string, boolean, Partial<Conditions>, Partial<RunResult>][] = [
    ["buffered", true, { io: "buffered" }, {}],
    ["fewer bytes on the device", true, {}, { deviceBytes: 5e7 }],
    ["more bytes on the device", false, {}, { deviceBytes: 2e8 }],
    ["a busy core", false, {}, { busiestCore: 0.99 }],
  ];
  it.each(odd)("is flagged for %s; memory in doubt: %s", (_, doubtful, conditions, result) => {
    const [only] = seen(measured(stated, [40], { ...as(conditions), result }));
    expect(only!.cautions).toHaveLength(1);
    expect(only!.doubtful).toBe(doubtful);
  });

  it("is not flagged for nothing", () => {
    const none = { result: { deviceBytes: null, busiestCore: null } };
    for (const [only] of [seen(measured(stated, [40])), seen(measured(stated, [40], none))]) {
      expect(only).toMatchObject({ cautions: [], doubtful: false });
    }
  });
});
