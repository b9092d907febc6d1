import * as z from "zod";
import { DrillDirectionSchema, summaryOf, type Drill } from "@/core/drills/drill";
import { drillNamed } from "@/core/drills/catalogue";
import type { RunResult, Sample } from "@/core/run/result";
import { stepDifferences, traceDifferences } from "@/core/simulate/differ";
import type { HeldAgainst } from "@/core/simulate/held-against";
import { simulatedDrill, simulateRepeats } from "@/core/simulate/measure";
import { BenchModel, Fault, Simulation } from "@/core/simulate/model";
import type { Measurement } from "@/core/study/measurement";
import { thinned } from "@/core/trace/thin";
import type { Store } from "@/store/database";
import { extrasOf } from "@/store/studies";
import { checked, checkedBy, Problem } from "../problem";
import { findRig, measurement } from "../studies/studies";

const Asked = z.object({
  drill: z.string(),
  direction: DrillDirectionSchema,
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
export function simulateFor(store: Store, rigId: string, input: unknown): HeldAgainst {
  const asked = checked(Asked, input);
  const { studyId, rig } = findRig(store, rigId);
  const simulation = simulationOf(store, studyId, rigId, rig.parts.at(-1)!.id, asked);
  const against = asked.measurementId ? measuredRun(store, studyId, asked.measurementId) : null;
  const drill: Drill = against
    ? { ...against.measurement.drill, repeats: 1 }
    : checkedBy(() =>
        simulatedDrill(
          { name: asked.drill, direction: asked.direction, repeats: 1 },
          rig,
          simulation,
        ),
      );
  const [run] = attempt(() => simulateRepeats(rig, drill, simulation, asked.seed));
  const { samples, result, readings, events, assumed } = run!;
  const one = result.steps.filter(({ kind }) => kind !== "rest").length === 1;
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
    stretches: against && one ? traceDifferences(joined(against.samples), joined(samples)) : [],
    steps: against && !one ? stepDifferences(against.result, result) : [],
    hottest: hottestOf(readings),
    events: events.slice(0, 50),
    assumed,
    faults: simulation.faults,
  };
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
  burstMBps: Math.max(...steps.map((step) => step.burstMBps)),
  sustainedMBps: steps.find(({ kind }) => kind !== "rest")?.sustainedMBps ?? 0,
  edgeBytes: steps.find(({ edgeBytes }) => edgeBytes !== null)?.edgeBytes ?? null,
  faults: steps.reduce((sum, step) => sum + step.faults.length, 0),
  steps: steps
    .filter(({ kind }) => kind !== "rest")
    .map(({ label, meanMBps: mbps }) => ({ label, mbps })),
});

function hottestOf(readings: readonly { celsius: Record<string, number> }[]) {
  const all = readings.flatMap(({ celsius }) => Object.entries(celsius));
  const [hottest] = all.toSorted(([, a], [, b]) => b - a);
  return hottest ? { part: hottest[0], celsius: hottest[1] } : null;
}

function attempt<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, error.message);
    throw error;
  }
}
