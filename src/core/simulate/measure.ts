import type { Rig } from "../chain/rig";
import { defineFrom, type Drill } from "../drills/drill";
import type { TargetFacts } from "../drills/parameter";
import type { RunResult } from "../run/result";
import { resultFrom } from "../drills/summary";
import { PartModel, type Simulation } from "./model";
import type { RecordingWith } from "./replay";
import { simulateRun, type Occasion, type SimulatedRun } from "./run";

/** What is left free of a drive, as by the engine. */
const RESERVE = 0.02;

/** What a drill's usual settings follow from on the simulated bench. */
export function simulatedFacts({ parts }: Rig, { parts: models }: Simulation): TargetFacts {
  const drive = parts.at(-1)!;
  const model = models[drive.id] ?? PartModel.parse({});
  const capacity = model.capacityBytes ?? drive.capacityBytes ?? 1e12;
  return {
    kind: "directory",
    room: Math.max(2 ** 20, capacity * (1 - model.filled - RESERVE)),
    smallestBlock: null,
    cache: drive.cacheBytes === null ? null : { bytes: drive.cacheBytes, from: "stated" },
  };
}

/**
 * Completes a drill for the simulated bench.
 *
 * @throws z.ZodError that names what makes no sense
 */
export const simulatedDrill = (input: unknown, rig: Rig, simulation: Simulation): Drill =>
  defineFrom(input, simulatedFacts(rig, simulation));

/**
 * Does all repeats of a drill on the simulated bench.
 *
 * @param seed the same gives the same runs, sample by sample; plugging: how often the rig was put together before
 * @param recordings for a drill that does them again
 * @throws RangeError where a link of the rig does not come up, or a recording is not here
 */
export const simulateRepeats = (
  rig: Rig,
  drill: Drill,
  simulation: Simulation,
  { seed, plugging = 0 }: Omit<Occasion, "repeat">,
  recordings?: RecordingWith,
): (SimulatedRun & { result: RunResult })[] =>
  Array.from({ length: drill.repeats }, (_, repeat) => {
    const run = simulateRun(rig, drill, simulation, { seed, repeat, plugging }, recordings);
    return { ...run, result: resultFrom(drill, run.steps) };
  });
