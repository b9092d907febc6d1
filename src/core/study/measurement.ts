import * as z from "zod";
import { findDrill } from "../drills/catalogue";
import { drillKey, summaryOf, type Drill } from "../drills/drill";
import { requestsKey, requestsWords, usualDrill } from "../drills/shape";
import { WATCHED } from "../drills/kinds/watched";
import { OUTCOME } from "../drills/kinds/outcome";
import type { RunStatus } from "../drills/request";
import type { BriefResult } from "../run/brief";
import type { Conditions, ErrorCount, Reading, RunEvent, Sample, StepResult } from "../run/result";
import { isCoreFull } from "../run/full-core";
import { lastingStates, wasHostBusy } from "./drive-state";
import { summarise, type Repeats } from "../stats/repeats";
import type { Rig } from "../chain/rig";
import type { Correction } from "../run/mark";
import type { Circumstances } from "./condition-rows";
import type { Stated } from "../run/stated";

/** One repeat of a drill, as far as a whole study is read. */
export interface BriefRun {
  id: string;
  repeat: number;
  status: RunStatus;
  result: BriefResult | null;
  errors: ErrorCount[];
  /** What the tester corrected of what was found in its trace. */
  corrections: Correction[];
  /** Why it counts for nothing, where the tester left it out. */
  leftOut: string | null;
}

/** One repeat of a drill with its trace. */
export interface Run extends BriefRun {
  /** Its steps as far as they came to their end. */
  steps: StepResult[];
  samples: Sample[];
  events: RunEvent[];
  readings: Reading[];
}

/** Whether a run was read with its trace. */
export const isTraced = (run: BriefRun): run is Run => "samples" in run;

/** Whether a run has a result that counts. */
export const counts = ({ result, leftOut }: Pick<BriefRun, "result" | "leftOut">): boolean =>
  result !== null && leftOut === null;

/**
 * Where a run comes from: measured by Nerrit's engine, watched while other programs worked, read from
 * the log of another program, written down by the tester, or made up by the simulated bench.
 */
export const Origin = z.enum(["measured", "watched", "imported", "typed", "simulated"]);
export type Origin = z.infer<typeof Origin>;

/** Stands between the targets of a measurement that has several: in no path that people choose. */
export const BETWEEN_TARGETS = "\n";

/** The targets of a measurement, in the order in which its drill knows them. */
export const targetsOf = ({ target }: Pick<Measurement, "target">): string[] =>
  target.split(BETWEEN_TARGETS);

/**
 * The settings of a measurement's drill in words. Of what another program measured, or somebody wrote
 * down, nobody stated more than perhaps its requests.
 */
export function settingsWords({ drill, origin }: Pick<Measurement, "drill" | "origin">): string {
  const isStated = origin !== "typed" && origin !== "imported";
  if (isStated || findDrill(drill.name) === null) return summaryOf(drill);
  const usual = usualDrill(drill.name, drill.direction);
  return requestsKey(drill) === requestsKey(usual)
    ? "settings not stated"
    : `${requestsWords(drill)}; nothing else stated`;
}

/** One order to measure, and its runs so far. */
export interface Measurement<R extends BriefRun = Run> {
  id: string;
  rigId: string;
  drill: Drill;
  target: string;
  origin: Origin;
  status: RunStatus;
  reason: string | null;
  createdAt: string;
  /** The rig as it was then; the study's rig of that id may have been changed since. */
  rig: Rig;
  conditions: Conditions | null;
  stated: Stated;
  /** Made to warm up: it shows nothing. */
  warmUp: boolean;
  runs: R[];
}

/** The same with its runs in brief. */
export type BriefMeasurement = Measurement<BriefRun>;

/** What was seen of one set-up in one drill: the repeats, their latencies, and what to beware of. */
export interface Observation {
  rig: Rig;
  drill: Drill;
  origin: Origin;
  repeats: Repeats;
  results: BriefResult[];
  /** Of each result, whether other programs kept the host busy as its run began. */
  hostBusy: boolean[];
  measurementIds: string[];
  /** Counters of the system's that rose during its runs. */
  errors: ErrorCount[];
  cautions: string[];
  /** Whether memory may have answered in the drive's place: then it shows nothing of any part. */
  doubtful: boolean;
  /** Of the latest of them. */
  circumstances: Circumstances;
}

/**
 * Everything that was seen, one entry for each set-up and drill: repeats with the same drill, the
 * same way of reaching the device, the same origin, the same parts and, where they write, the same
 * state of the drive belong together.
 *
 * @param measurements the latest first; the entries come in the same order
 */
export function observationsOf(measurements: readonly BriefMeasurement[]): Observation[] {
  const groups = new Map<string, BriefMeasurement[]>();
  for (const one of measurements) {
    // What other programs did shows no drill: only the same job can be held against it (compare/jobs.ts).
    if (one.warmUp || isNoDrill(one) || !one.runs.some(counts)) continue;
    const key = keyOf(one);
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()].map((alike) => {
    const [latest] = alike as [BriefMeasurement];
    const results = alike.flatMap(({ runs }) =>
      runs.filter(counts).flatMap(({ result }) => result ?? []),
    );
    const hostBusy = alike.flatMap(({ runs, conditions }) =>
      runs.filter(counts).flatMap(({ result }) => (result ? [wasHostBusy(conditions)] : [])),
    );
    const memory = answeredByMemory(latest, results);
    return {
      rig: latest.rig,
      drill: latest.drill,
      origin: latest.origin,
      repeats: summarise(results.map(({ meanMBps }) => meanMBps)),
      results,
      hostBusy,
      measurementIds: alike.map(({ id }) => id),
      errors: alike.flatMap(({ runs }) => runs.filter(counts).flatMap(risen)),
      cautions: [
        ...memory,
        ...ofOrigin(latest.origin),
        ...otherCautions(results, isHostSpoiled({ results, hostBusy })),
      ],
      doubtful: memory.length > 0,
      circumstances: circumstancesOf(latest, results),
    };
  });
}

/** What is no drill: what other programs did, or that nothing worked. */
const isNoDrill = ({ origin, drill }: BriefMeasurement) =>
  origin === "watched" || drill.name === WATCHED.name || drill.name === OUTCOME.name;

const risen = ({ errors }: Pick<BriefRun, "errors">) =>
  errors.filter(({ before, after }) => after > before);

/** Those of a measurement; the warmest beginning of its repeats counts. */
function circumstancesOf(
  { conditions, stated }: BriefMeasurement,
  results: readonly BriefResult[],
) {
  const warm = results.flatMap(({ startCelsius }) => startCelsius ?? []);
  return { conditions, stated, ...(warm.length > 0 ? { startCelsius: Math.max(...warm) } : {}) };
}

/**
 * What was seen of a rig as it stands now, in one direction: measured before typed, typed before
 * simulated, and of one origin the latest. Runs made before one of its parts was exchanged are not
 * runs of this rig.
 *
 * @param observations of the study, the latest first
 * @returns null where nothing was finished
 */
export const observe = (
  observations: readonly Observation[],
  rig: Rig,
  direction: Drill["direction"],
): Observation | null =>
  observations
    .filter((seen) => isOf(seen, rig) && seen.drill.direction === direction)
    .toSorted((a, b) => Origin.options.indexOf(a.origin) - Origin.options.indexOf(b.origin))[0] ??
  null;

/** What was seen, by the id of its rig: for whoever asks of many rigs. */
export function byRigOf<T extends Pick<Observation, "rig">>(seen: readonly T[]): Map<string, T[]> {
  const found = new Map<string, T[]>();
  for (const one of seen) {
    const alike = found.get(one.rig.id);
    if (alike) alike.push(one);
    else found.set(one.rig.id, [one]);
  }
  return found;
}

/** Whether something was seen of a rig as it stands now. */
export const isOf = (seen: Observation, rig: Rig): boolean => isSetUpOf(seen.rig, rig);

/** Whether a rig, as it was once, is one as it stands now: no part of it was exchanged. */
export const isSetUpOf = (then: Rig, now: Rig): boolean =>
  then.id === now.id && setUpOf(then) === setUpOf(now);

/** The same for two rigs that are physically alike: the same items in the same places. */
function setUpOf(rig: Rig): string {
  const known = setUps.get(rig);
  if (known !== undefined) return known;
  const { parts, beside, other, layout, layoutBy, transport, bay } = rig;
  const ids = [parts, beside, other].map((list) => list.map(({ id }) => id).join());
  const by = layoutBy === "host" ? "host" : "";
  const setUp = [...ids, layout, by, transport, bay || ""].join("|");
  setUps.set(rig, setUp);
  return setUp;
}

/** Made already: a study's runs are told apart again and again. */
const setUps = new WeakMap<Rig, string>();

const keyOf = (one: BriefMeasurement) => `${one.rig.id}|${conditionsKey(one)}`;

/**
 * The same for measurements that can be held against each other wherever and whenever they were made: the
 * same items in the same places, the same drill, the same way to the device, the same origin and, where they
 * write, the same state of the drive.
 */
export const conditionsKey = ({ drill, conditions, rig, origin }: BriefMeasurement): string =>
  [
    drillKey(drill),
    conditions?.io,
    origin,
    setUpOf(rig),
    conditions?.ballast ? `ballast ${conditions.ballast.level}` : "",
    ...(drill.direction === "write" ? lastingStates(conditions) : []),
  ].join("|");

/** The kernel may count a little other traffic, but not less than was moved. */
const KERNEL_SHARE = 0.99;

/** Whether the kernel counted less on the device than was moved: the rest came from memory, or stayed there. */
export const countedLess = (
  results: readonly Pick<BriefResult, "bytes" | "deviceBytes">[],
): boolean => results.some((r) => r.deviceBytes !== null && r.deviceBytes < r.bytes * KERNEL_SHARE);

/** Whether memory may have answered a run in the drive's place. */
export const isFromMemory = (
  measurement: Pick<BriefMeasurement, "conditions">,
  { result }: Pick<BriefRun, "result">,
): boolean => answeredByMemory(measurement, result ? [result] : []).length > 0;

function answeredByMemory(
  { conditions }: Pick<BriefMeasurement, "conditions">,
  results: readonly BriefResult[],
): string[] {
  const cautions: string[] = [];
  if (conditions?.io === "buffered") {
    cautions.push("measured through the page cache: memory may have answered");
  }
  if (countedLess(results)) {
    cautions.push("the kernel counted less on the device than was moved: memory answered");
  }
  return cautions;
}

/** What is not known of results that this program did not measure. */
function ofOrigin(origin: Origin): string[] {
  if (origin === "typed") return ["typed in: no trace and no test conditions"];
  if (origin === "imported")
    return ["from the log of another program: how it measured is not known"];
  return [];
}

/** Whether other programs held a processor core that a run of these needed: to be repeated on an idle host. */
export const isHostSpoiled = ({ results, hostBusy }: Pick<Observation, "results" | "hostBusy">) =>
  results.some((result, i) => isCoreFull(result) && hostBusy[i]);

function otherCautions(results: readonly BriefResult[], hostSpoiled: boolean): string[] {
  const cautions: string[] = [];
  if (results.some((r) => r.deviceBytes !== null && r.deviceBytes * KERNEL_SHARE > r.bytes)) {
    cautions.push("the kernel counted more on the device: something else used it too");
  }
  if (hostSpoiled) {
    cautions.push("other programs kept a processor core busy: repeat it on an idle host");
  } else if (results.some(isCoreFull)) {
    cautions.push("a processor core was fully busy: the host may be the limit");
  }
  return cautions;
}
