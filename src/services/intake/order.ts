import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { decodeLog } from "@/core/elsewhere/decode";
import type { LogPreview } from "@/core/elsewhere/preview";
import { holdsTooMuch } from "@/core/exchange/json-size";
import type { StudyFile } from "@/core/exchange/study-file";
import { anyRecording } from "@/core/recording/any-recording";
import { predictWork, type PredictedWork, type RigAnswering } from "@/core/replay/predict";
import { simulateRepeats } from "@/core/simulate/measure";
import type { Simulation } from "@/core/simulate/model";
import { previewLog, runOfLog } from "../elsewhere/log";
import { warmthIn, type LoggedWarmth, type RunClock } from "../elsewhere/log-warmth";
import { checked, inRange, Problem } from "../problem";
import { checkRecordings } from "../recordings/in-study";
import { readStudyFile } from "../studies/read-study-file";
import { packed, TakeIn, type Kept, type RunsToTakeIn } from "../elsewhere/runs-file";

/** Something large that came in, as bytes, and what it is to be made into. */
export interface IntakeOrder {
  kind: keyof IntakeMade;
  bytes: Uint8Array;
  /** Of the run that a log's temperatures are laid over. */
  clock?: RunClock;
  /** Of a recording: those that are done beside it, through which rigs, and how. */
  predict?: {
    beside: readonly Uint8Array[];
    rigs: readonly RigAnswering[];
    how: Parameters<typeof predictWork>[2];
  };
  /** Of recordings: what is done with them on the simulated bench, and their digests. */
  simulate?: {
    beside: readonly Uint8Array[];
    works: readonly string[];
    run: [rig: Rig, drill: Drill, simulation: Simulation, occasion: { seed: number }];
  };
}

/** What becomes of each, ready to be shown or stored. */
export interface IntakeMade {
  "log-look": LogPreview;
  warmth: LoggedWarmth;
  log: { rigId: string; kept: Kept };
  study: StudyFile;
  runs: RunsToTakeIn;
  /** Through each of the rigs; null where its ladders do not tell. */
  predict: (PredictedWork | null)[];
  simulate: ReturnType<typeof simulateRepeats>;
}

/**
 * Takes something large apart. Nothing is read from the store, so that a thread can do it.
 *
 * @param tell what it is at
 * @throws Problem that says where it is wrong
 */
export function takeApart(
  { kind, bytes, clock, predict, simulate }: IntakeOrder,
  tell: (words: string) => void,
): unknown {
  tell("reading it");
  switch (kind) {
    case "log-look":
      return previewLog(json(bytes));
    case "warmth":
      return warmthIn(json(bytes), clock!);
    case "log":
      return runOfLog(json(bytes));
    case "predict": {
      const { beside, rigs, how } = predict!;
      const recordings = [bytes, ...beside].map((one) => anyRecording(decodeLog(one)));
      return rigs.map((rig) => predictWork(recordings, rig, how));
    }
    case "simulate": {
      const { beside, works, run } = simulate!;
      const all = [bytes, ...beside].map((one) => anyRecording(decodeLog(one)));
      const recordings = new Map(works.map((sha256, i) => [sha256, all[i]!]));
      tell("doing it on the simulated bench");
      return inRange(() => simulateRepeats(...run, (sha256) => recordings.get(sha256) ?? null));
    }
    case "study": {
      const file = readStudyFile(bytes);
      checkRecordings(file.recordings ?? []);
      tell("packing its traces");
      return {
        ...file,
        runs: file.runs.map((run) => (run.runs ? { ...run, runs: run.runs.map(packed) } : run)),
      };
    }
    case "runs": {
      const { rigs, hosts, file } = checked(TakeIn, json(bytes));
      tell("packing its traces");
      const measurements = file.measurements.map((one) => ({
        ...one,
        runs: one.runs.map(packed),
      }));
      return { rigs, hosts, file: { measurements } };
    }
  }
}

function json(bytes: Uint8Array): unknown {
  if (holdsTooMuch(bytes))
    throw new Problem(413, "It holds more than any file of runs does. Nothing was imported.");
  try {
    return JSON.parse(new TextDecoder("utf-8", { fatal: true }).decode(bytes));
  } catch {
    throw new Problem(400, "The request's body is no JSON in UTF-8. Nothing was changed.");
  }
}
