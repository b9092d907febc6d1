import { drillKey, type Drill } from "../drills/drill";
import type { RunStatus } from "../drills/request";
import type { Conditions, RunResult, Sample } from "../drills/result";
import { summarise, type Repeats } from "../stats/repeats";
import type { Rig } from "../chain/rig";

/** One repeat of a drill, with its trace where that was asked for. */
export interface Run {
  id: string;
  repeat: number;
  status: RunStatus;
  result: RunResult | null;
  samples: Sample[];
}

/** One order to measure, and its runs so far. */
export interface Measurement {
  id: string;
  rigId: string;
  drill: Drill;
  target: string;
  status: RunStatus;
  reason: string | null;
  createdAt: string;
  rig: Rig;
  conditions: Conditions | null;
  runs: Run[];
}

/** What has been seen of one rig in one drill: the repeats, their latencies, and what to beware of. */
export interface Observation {
  drill: Drill;
  repeats: Repeats;
  results: RunResult[];
  measurementIds: string[];
  cautions: string[];
}

/**
 * Gathers a rig's finished runs in one direction. The latest drill counts; earlier measurements
 * with the same drill, the same way of reaching the device and the same parts add their repeats.
 *
 * @param measurements of one rig, the latest first
 * @returns null where nothing was finished
 */
export function observe(
  measurements: readonly Measurement[],
  direction: Drill["direction"],
): Observation | null {
  const finished = measurements.filter(
    ({ drill, runs }) => drill.direction === direction && runs.some(({ result }) => result),
  );
  const [latest] = finished;
  if (!latest) return null;
  const alike = finished.filter((other) => sameKey(other) === sameKey(latest));
  const results = alike.flatMap(({ runs }) => runs.flatMap(({ result }) => result ?? []));
  return {
    drill: latest.drill,
    repeats: summarise(results.map(({ meanMBps }) => meanMBps)),
    results,
    measurementIds: alike.map(({ id }) => id),
    cautions: cautionsOf(latest, results),
  };
}

const sameKey = ({ drill, conditions, rig }: Measurement) => {
  const ids = [rig.parts, rig.beside, rig.other].map((parts) => parts.map(({ id }) => id).join());
  return [drillKey(drill), conditions?.io, rig.transport, rig.layout, ...ids].join("|");
};

/** The kernel may count a little other traffic, but not less than was moved. */
const KERNEL_SHARE = 0.99;

function cautionsOf({ conditions }: Measurement, results: readonly RunResult[]): string[] {
  const cautions: string[] = [];
  if (conditions?.io === "buffered") {
    cautions.push("measured through the page cache: memory may have answered");
  }
  if (results.some((r) => r.deviceBytes !== null && r.deviceBytes < r.bytes * KERNEL_SHARE)) {
    cautions.push("the kernel counted less on the device than was moved: memory answered");
  }
  if (results.some((r) => r.deviceBytes !== null && r.deviceBytes * KERNEL_SHARE > r.bytes)) {
    cautions.push("the kernel counted more on the device: something else used it too");
  }
  if (results.some((r) => (r.busiestCore ?? 0) > 0.95)) {
    cautions.push("a processor core was fully busy: the host may be the limit");
  }
  return cautions;
}
