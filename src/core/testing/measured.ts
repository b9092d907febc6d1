import type { Rig } from "../chain/rig";
import type { Drill } from "../drills/drill";
import { briefOf, type BriefResult } from "../run/brief";
import type { Conditions, RunResult } from "../run/result";
import { usualDrill } from "../drills/shape";
import type { Measurement } from "../study/measurement";
import { UNSAID } from "../run/stated";
import type { Direction } from "../units/rate";

/** Short ways to make measurements, for tests only. */

export const resultOf = (meanMBps: number, more: Partial<RunResult> = {}): RunResult => ({
  meanMBps,
  iops: (meanMBps * 1e6) / 4096,
  bytes: 1e8,
  ms: 1000,
  requests: 10,
  latencyUs: { p50: 1, p95: 1, p99: 1, p999: 1, p9999: 1, max: 1 },
  deviceBytes: 1e8,
  processorUsPerRequest: 1,
  busiestCore: 0.2,
  steps: [],
  fit: null,
  ...more,
});

/** The same in brief, as a study has it. */
export const briefResultOf = (meanMBps: number, more: Partial<RunResult> = {}): BriefResult =>
  briefOf(resultOf(meanMBps, more));

/** What a run brings home beside its result, none of it. */
export const NOTHING_SEEN = {
  corrections: [],
  leftOut: null,
  steps: [],
  samples: [],
  events: [],
  readings: [],
  errors: [],
};

const settingsIn = ({ name: _, direction: _way, ...set }: Partial<Drill> = {}) => set;

/** The same drill for the same words, as a study has it. */
const drills = new Map<string, Drill>();
function drillFor(name: string, direction: Direction, set: Record<string, unknown>): Drill {
  const key = JSON.stringify([name, direction, set]);
  const drill = drills.get(key) ?? usualDrill(name, direction, set);
  drills.set(key, drill);
  return drill;
}

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
    drill: drillFor(drill?.name ?? "haul", direction, settingsIn(drill)),
    target: "/x",
    status: "done",
    reason: null,
    createdAt: "",
    rig,
    warmUp: false,
    origin: "measured",
    stated: UNSAID,
    conditions: { io: "direct" } as Conditions,
    runs: rates.map((rate, repeat) => ({
      id: `${id}-${repeat}`,
      repeat,
      status: rate === null ? "interrupted" : "done",
      result: rate === null ? null : briefResultOf(rate, result),
      ...NOTHING_SEEN,
    })),
    ...rest,
  };
}

/** Three repeats close around a rate. */
export const around = (mbps: number) => [mbps * 0.998, mbps, mbps * 1.002];
