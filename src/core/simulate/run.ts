import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stages";
import { kindOf, programOf, type Drill } from "../drills/drill";
import type { Conditions, ErrorCount, Reading, RunEvent, Sample, StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { SimulatedRig } from "./bench";
import { simulateCheck } from "./check";
import { otherSide, simulateCopy } from "./copy";
import type { Assumed } from "./drive";
import { simulateFlow } from "./flow";
import type { Simulation } from "./model";
import { simulateReplay, type RecordingWith } from "./replay";

/** What a simulated run hands over: samples, and what its steps gave, as the engine does. */
export interface SimulatedRun {
  samples: Sample[];
  steps: StepResult[];
  events: RunEvent[];
  readings: Reading[];
  errors: ErrorCount[];
  /** What nothing was said of. */
  assumed: Assumed[];
}

/** Which of a seed's runs it is: of which plugging-in, and the how-manieth of its repeats. */
export interface Occasion {
  seed: number;
  repeat?: number;
  plugging?: number;
}

/**
 * Does a drill on the simulated bench, from a drive that was left alone and is as warm as the room.
 *
 * @param occasion the same gives the same run, sample by sample
 * @param recordings for a drill that does them again
 * @throws RangeError where a link of the rig does not come up, or a recording is not here
 */
export function simulateRun(
  rig: Rig,
  drill: Drill,
  simulation: Simulation,
  { seed, repeat = 0, plugging = 0 }: Occasion,
  recordings: RecordingWith = () => null,
): SimulatedRun {
  const dead = stagesOf(rig, "read").find(({ ceiling }) => ceiling <= 0);
  if (dead) throw new RangeError(`The link at ${dead.part.name} does not come up.`);
  const occasion = { seed, repeat, plugging };
  const here = new SimulatedRig(rig, simulation, occasion);
  const far = otherSide(rig);
  const there = far && new SimulatedRig(far, simulation, occasion);
  const targets = there && kindOf(drill).source ? 2 : here.bays.length;
  const steps = programOf(drill, targets).map((step, number): StepResult => {
    switch (step.do) {
      case "flow":
        return simulateFlow(here, step, number);
      case "check":
        return simulateCheck(here, step, number);
      case "copy":
        return simulateCopy(here, there, there ? step : { ...step, from: null, to: 0 }, number);
      case "rest":
        here.rest(step.seconds);
        here.advance(step.seconds * 1e3);
        return { ...blankStep("rest", step.label), ms: step.seconds * 1e3 };
      case "replay":
        return simulateReplay(here, step, number, recordings);
    }
  });
  const { samples, events, readings, restless, assumed } = here;
  const retries = { what: "retries on the link", from: "simulated", before: 0 };
  return {
    samples,
    steps,
    events,
    readings,
    assumed,
    errors: [
      ...(restless.retries > 0 ? [{ ...retries, after: restless.retries }] : []),
      ...simulation.faults
        .filter(({ kind }) => kind === "bad-bay")
        .map(() => ({
          ...retries,
          what: "errors in the bay",
          after: Math.ceil(samples.length / 20),
        })),
    ],
  };
}

/** The conditions of a simulated run, which says of everything that it is simulated. */
export function simulatedConditions(
  rig: Rig,
  { bench, faults, parts }: Simulation,
  startedAt: string,
  nerrit: string,
): Conditions {
  const drive = rig.parts.at(-1)!;
  const model = parts[drive.id];
  const capacity = model?.capacityBytes ?? drive.capacityBytes;
  return {
    startedAt,
    nerrit,
    host: rig.host || "simulated",
    kernel: "simulated",
    processor: "simulated",
    cores: 1,
    loadAtStart: 0,
    target: "simulated rig",
    targetKind: "directory",
    fileSystem: rig.fileSystem || null,
    mountOptions: null,
    device: null,
    deviceBytes: capacity,
    freeBytes: capacity === null ? null : Math.round(capacity * (1 - (model?.filled ?? 0))),
    scheduler: null,
    rotational: model?.medium === "disk",
    writeCache: faults.some(({ kind }) => kind === "cache-off") ? "write through" : null,
    requestLimitBytes: null,
    io: faults.some(({ kind }) => kind === "memory") ? "buffered" : "direct",
    lane: "portable",
    notes: [`Simulated, in a room of ${bench.ambientCelsius} °C.`],
    quiet: [],
  };
}
