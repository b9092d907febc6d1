import { drillKey, type Drill } from "../drills/drill";
import type { RunStatus } from "../drills/request";
import type {
  Conditions,
  ErrorCount,
  Reading,
  RunEvent,
  RunResult,
  Sample,
  StepResult,
} from "../drills/result";
import { summarise, type Repeats } from "../stats/repeats";
import type { Rig } from "../chain/rig";

/** One repeat of a drill, with its trace where that was asked for. */
export interface Run {
  id: string;
  repeat: number;
  status: RunStatus;
  result: RunResult | null;
  /** Its steps as far as they came to their end; read together with the samples. */
  steps: StepResult[];
  samples: Sample[];
  events: RunEvent[];
  readings: Reading[];
  errors: ErrorCount[];
}

/** Stands between the targets of a measurement that has several: in no path that people choose. */
export const BETWEEN_TARGETS = "\n";

/** The targets of a measurement, in the order in which its drill knows them. */
export const targetsOf = ({ target }: Pick<Measurement, "target">): string[] =>
  target.split(BETWEEN_TARGETS);

/** One order to measure, and its runs so far. */
export interface Measurement {
  id: string;
  rigId: string;
  drill: Drill;
  target: string;
  status: RunStatus;
  reason: string | null;
  createdAt: string;
  /** The rig as it was then; the study's rig of that id may have been changed since. */
  rig: Rig;
  conditions: Conditions | null;
  runs: Run[];
}

/** What was seen of one set-up in one drill: the repeats, their latencies, and what to beware of. */
export interface Observation {
  rig: Rig;
  drill: Drill;
  repeats: Repeats;
  results: RunResult[];
  measurementIds: string[];
  cautions: string[];
  /** Whether memory may have answered in the drive's place: then it shows nothing of any part. */
  doubtful: boolean;
}

/**
 * Everything that was seen, one entry for each set-up and drill: repeats with the same drill, the
 * same way of reaching the device, the same origin and the same parts belong together.
 *
 * @param measurements the latest first; the entries come in the same order
 */
export function observationsOf(measurements: readonly Measurement[]): Observation[] {
  const groups = new Map<string, Measurement[]>();
  for (const one of measurements) {
    if (!one.runs.some(({ result }) => result)) continue;
    const key = keyOf(one);
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()].map((alike) => {
    const [latest] = alike as [Measurement];
    const results = alike.flatMap(({ runs }) => runs.flatMap(({ result }) => result ?? []));
    const memory = answeredByMemory(latest, results);
    return {
      rig: latest.rig,
      drill: latest.drill,
      repeats: summarise(results.map(({ meanMBps }) => meanMBps)),
      results,
      measurementIds: alike.map(({ id }) => id),
      cautions: [...memory, ...otherCautions(results)],
      doubtful: memory.length > 0,
    };
  });
}

/**
 * What was seen of a rig as it stands now, in one direction; the latest drill counts. Runs made
 * before one of its parts was exchanged are not runs of this rig.
 *
 * @param observations of the study, the latest first
 * @returns null where nothing was finished
 */
export const observe = (
  observations: readonly Observation[],
  rig: Rig,
  direction: Drill["direction"],
): Observation | null =>
  observations.find((seen) => isOf(seen, rig) && seen.drill.direction === direction) ?? null;

/** Whether something was seen of a rig as it stands now. */
export const isOf = (seen: Observation, rig: Rig): boolean =>
  seen.rig.id === rig.id && setUpOf(seen.rig) === setUpOf(rig);

/** The same for two rigs that are physically alike: the same items in the same places. */
function setUpOf({ parts, beside, other, layout, transport }: Rig): string {
  const ids = [parts, beside, other].map((list) => list.map(({ id }) => id).join());
  return [...ids, layout, transport].join("|");
}

const keyOf = ({ drill, conditions, rig }: Measurement) =>
  [rig.id, drillKey(drill), conditions?.io, conditions?.simulated, setUpOf(rig)].join("|");

/** The kernel may count a little other traffic, but not less than was moved. */
const KERNEL_SHARE = 0.99;

function answeredByMemory({ conditions }: Measurement, results: readonly RunResult[]): string[] {
  const cautions: string[] = [];
  if (conditions?.io === "buffered") {
    cautions.push("measured through the page cache: memory may have answered");
  }
  if (results.some((r) => r.deviceBytes !== null && r.deviceBytes < r.bytes * KERNEL_SHARE)) {
    cautions.push("the kernel counted less on the device than was moved: memory answered");
  }
  return cautions;
}

function otherCautions(results: readonly RunResult[]): string[] {
  const cautions: string[] = [];
  if (results.some((r) => r.deviceBytes !== null && r.deviceBytes * KERNEL_SHARE > r.bytes)) {
    cautions.push("the kernel counted more on the device: something else used it too");
  }
  if (results.some((r) => (r.busiestCore ?? 0) > 0.95)) {
    cautions.push("a processor core was fully busy: the host may be the limit");
  }
  return cautions;
}
