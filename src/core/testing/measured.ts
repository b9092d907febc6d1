import type { Rig } from "../chain/rig";
import { HAUL, type Drill } from "../drills/drill";
import type { Conditions, RunResult } from "../drills/result";
import type { Measurement } from "../study/measurement";
import type { Direction } from "../units/rate";

/** Short ways to make measurements, for tests only. */

export const resultOf = (meanMBps: number, more: Partial<RunResult> = {}): RunResult => ({
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

let count = 0;

/** A measurement of a rig; a run for each rate, null for one that was cut short. */
export function measured(
  rig: Rig,
  rates: readonly (number | null)[],
  more: Partial<Omit<Measurement, "drill">> & {
    direction?: Direction;
    drill?: Partial<Drill>;
    result?: Partial<RunResult>;
  } = {},
): Measurement {
  const { direction = "read", drill, result, ...rest } = more;
  const id = `m${count++}`;
  return {
    id,
    rigId: rig.id,
    drill: { ...HAUL, direction, ...drill },
    target: "/x",
    status: "done",
    reason: null,
    createdAt: "",
    rig,
    conditions: { io: "direct", simulated: false } as Conditions,
    runs: rates.map((rate, repeat) => ({
      id: `${id}-${repeat}`,
      repeat,
      status: rate === null ? "interrupted" : "done",
      result: rate === null ? null : resultOf(rate, result),
      samples: [],
    })),
    ...rest,
  };
}

/** Three repeats close around a rate. */
export const around = (mbps: number) => [mbps * 0.998, mbps, mbps * 1.002];
