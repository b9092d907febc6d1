import fs from "node:fs";
import * as z from "zod";
import type { Rig } from "@/core/chain/rig";
import { DrillDirectionSchema, kindOf, summaryOf, type Drill } from "@/core/drills/drill";
import { drillNamed } from "@/core/drills/catalogue";
import { worksOf } from "@/core/drills/kinds/encore";
import { MOST_WORKS, RecordedWork } from "@/core/run/recorded-work";
import type { RunResult, Sample } from "@/core/run/result";
import { stepDifferences, traceDifferences } from "@/core/simulate/differ";
import type { HeldAgainst } from "@/core/simulate/held-against";
import { simulatedDrill, simulateRepeats } from "@/core/simulate/measure";
import { BenchModel, Fault, Simulation } from "@/core/simulate/model";
import type { Measurement } from "@/core/study/measurement";
import { thinned } from "@/core/trace/thin";
import type { Store } from "@/store/database";
import { extrasOf } from "@/store/studies";
import { inIntakeThread } from "../intake/thread";
import type { Following } from "../intake/take";
import { checked, checkedBy, inRange, Problem } from "../problem";
import type { Services } from "../services";
import { noWork } from "./order";
import { findRig, measurement } from "../studies/studies";

const Asked = z.object({
  drill: z.string(),
  direction: DrillDirectionSchema,
  /** What is done again, for a drill that does so. */
  recordings: z.array(RecordedWork).max(MOST_WORKS).default([]),
  seed: z.number({ error: "must be a number" }).int("must be a whole number").default(1),
  /** The run to hold it against: then its own drill is done. */
  measurementId: z.string().nullable().default(null),
  ambientCelsius: BenchModel.shape.ambientCelsius,
  /** Of the drive; what is left out is as the study's file says, or taken for granted. */
  drive: z
    .object({
      filled: z
        .number({ error: "must be a number" })
        .min(0, "at least 0 %")
        .max(1, "at most 100 %")
        .optional(),
      used: z.boolean().optional(),
    })
    .default({}),
  cache: z
    .object({
      bytes: z.number().positive("must be above 0").max(1e18),
      foldedMBps: z.number().positive("must be above 0").max(1e6).optional(),
    })
    .nullable()
    .default(null),
  /** In the place of those that the study's file names. */
  faults: z.array(Fault).max(24).nullable().default(null),
});

/** Points that a picture of two traces shows of each. */
const MOST = 800;

/**
 * Does a drill on the simulated bench for a rig of a study, and holds it against what was measured.
 *
 * @throws Problem that names what makes no sense
 */
export async function simulateFor(
  { store, recordings }: Pick<Services, "store" | "recordings">,
  rigId: string,
  input: unknown,
  following: Following,
): Promise<HeldAgainst> {
  const asked = checked(Asked, input);
  const { studyId, rig } = findRig(store, rigId);
  const simulation = simulationOf(store, studyId, rigId, rig.parts.at(-1)!.id, asked);
  const against = asked.measurementId ? measuredRun(store, studyId, asked.measurementId) : null;
  const drill: Drill = against
    ? { ...against.measurement.drill, repeats: 1 }
    : drillOf(asked, rig, simulation);
  const [run] = kindOf(drill).recorded
    ? await replayed([rig, drill, simulation, { seed: asked.seed }], recordings, following)
    : inRange(() => simulateRepeats(rig, drill, simulation, { seed: asked.seed }));
  const { samples, result, readings, events, assumed } = run!;
  const one = result.steps.filter(({ kind }) => kind !== "rest").length === 1;
  const isWork = kindOf(drill).recorded === true;
  return {
    drill: {
      title: drillNamed(drill.name).title,
      direction: drill.direction,
      summary: summaryOf(drill),
    },
    simulated: { ...figuresOf(result), samples: thinned(joined(samples), MOST) },
    measured: against && {
      ...figuresOf(against.result),
      id: against.measurement.id,
      origin: against.measurement.origin,
      samples: thinned(joined(against.samples), MOST),
    },
    // Work is held against work by its time: it moves nothing while its program thinks.
    stretches:
      against && one && !isWork ? traceDifferences(joined(against.samples), joined(samples)) : [],
    steps: against && !one && !isWork ? stepDifferences(against.result, result) : [],
    hottest: hottestOf(readings),
    events: events.slice(0, 50),
    assumed,
    faults: simulation.faults,
  };
}

function drillOf(
  { drill: name, direction, recordings }: z.infer<typeof Asked>,
  rig: Rig,
  simulation: Simulation,
): Drill {
  const isRecorded = drillNamed(name).recorded === true;
  if (isRecorded && recordings.length === 0) throw noWork();
  const set = isRecorded ? { recordings } : {};
  return checkedBy(() => simulatedDrill({ ...set, name, direction, repeats: 1 }, rig, simulation));
}

/** Recordings done again on the simulated bench, in a thread of its own. @throws Problem where one is not here */
function replayed(
  run: Parameters<typeof simulateRepeats>,
  recordings: Services["recordings"],
  following: Following,
) {
  const [rig, drill, simulation, occasion] = run;
  const works = worksOf(drill);
  const [bytes, ...beside] = works.map(({ name, sha256 }) => {
    const file = recordings.fileWith(sha256);
    if (!file)
      throw new Problem(
        422,
        `The recording "${name}" is not here any more. Add its file on Measure.`,
      );
    return fs.readFileSync(/* turbopackIgnore: true */ file);
  });
  const simulate = {
    beside,
    works: works.map(({ sha256 }) => sha256),
    run: [rig, drill, simulation, occasion] as [Rig, Drill, Simulation, { seed: number }],
  };
  return inIntakeThread({ kind: "simulate", bytes: bytes!, simulate }, following);
}

/** What a study's file says of its bench, with what is asked put in its place. */
function simulationOf(
  store: Store,
  studyId: string,
  rigId: string,
  driveId: string,
  asked: z.infer<typeof Asked>,
): Simulation {
  const { simulation: filed } = extrasOf(store, studyId);
  const drive = filed?.parts[driveId];
  const cache = asked.cache && {
    stages: [{ bytes: asked.cache.bytes }],
    ...(asked.cache.foldedMBps ? { foldedMBps: asked.cache.foldedMBps } : {}),
  };
  return checked(Simulation, {
    bench: { ...filed?.bench, ambientCelsius: asked.ambientCelsius },
    parts: {
      ...filed?.parts,
      [driveId]: { ...drive, ...asked.drive, ...(cache ? { cache } : {}) },
    },
    faults: asked.faults ?? filed?.faults[rigId] ?? [],
  });
}

/** The repeat of a measurement whose rate is in the middle. */
function measuredRun(
  store: Store,
  studyId: string,
  id: string,
): { measurement: Measurement; samples: Sample[]; result: Figures } {
  const found = measurement(store, id);
  const done = found.runs
    .filter(({ result }) => result !== null)
    .toSorted((a, b) => a.result!.meanMBps - b.result!.meanMBps);
  const middle = done[Math.floor((done.length - 1) / 2)];
  if (found.studyId !== studyId || !middle) {
    throw new Problem(422, "That run was not finished: there is nothing to hold against it.");
  }
  return {
    measurement: found,
    samples: middle.samples,
    result: { ...middle.result!, steps: middle.steps },
  };
}

/** Samples of several targets at one moment as one. */
function joined(samples: readonly Sample[]): Sample[] {
  const all: Sample[] = [];
  for (const sample of samples) {
    const last = all.at(-1);
    if (last && last.ms === sample.ms && last.from === sample.from) last.bytes += sample.bytes;
    else all.push({ ...sample });
  }
  return all;
}

/** What a run is held against another by. */
type Figures = Pick<RunResult, "meanMBps" | "iops" | "steps" | "bytes" | "ms">;

const figuresOf = ({ meanMBps, iops, steps, bytes, ms }: Figures) => ({
  meanMBps,
  iops,
  bytes,
  ms,
  waitedMs: waitedIn(steps),
  burstMBps: Math.max(...steps.map((step) => step.burstMBps)),
  sustainedMBps: steps.find(({ kind }) => kind !== "rest")?.sustainedMBps ?? 0,
  edgeBytes: steps.find(({ edgeBytes }) => edgeBytes !== null)?.edgeBytes ?? null,
  faults: steps.reduce((sum, step) => sum + step.faults.length, 0),
  steps: steps
    .filter(({ kind }) => kind !== "rest")
    .map(({ label, meanMBps: mbps }) => ({ label, mbps })),
});

/** How long work that was done again waited for the drive; null of any other drill. */
function waitedIn(steps: Figures["steps"]): number | null {
  const each = steps.flatMap(({ replay }) => (replay ? [replay.replayed.waitedMs] : []));
  return each.length > 0 ? each.reduce((sum, ms) => sum + ms, 0) : null;
}

function hottestOf(readings: readonly { celsius: Record<string, number> }[]) {
  const all = readings.flatMap(({ celsius }) => Object.entries(celsius));
  const [hottest] = all.toSorted(([, a], [, b]) => b - a);
  return hottest ? { part: hottest[0], celsius: hottest[1] } : null;
}
