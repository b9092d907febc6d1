import { decodeLog } from "@/core/elsewhere/decode";
import type { LogPreview } from "@/core/elsewhere/preview";
import { holdsTooMuch } from "@/core/exchange/json-size";
import type { StudyFile } from "@/core/exchange/study-file";
import { anyRecording } from "@/core/recording/any-recording";
import { predictWork, type PredictedWork, type RigAnswering } from "@/core/replay/predict";
import { previewLog, runOfLog } from "../elsewhere/log";
import { warmthIn, type LoggedWarmth, type RunClock } from "../elsewhere/log-warmth";
import { checked, Problem } from "../problem";
import { checkRecordings } from "../recordings/in-study";
import { readStudyFile } from "../studies/read-study-file";
import { packed, TakeIn, type Kept, type RunsToTakeIn } from "../elsewhere/runs-file";

/** Something large that came in, as bytes, and what it is to be made into. */
export interface IntakeOrder {
  kind: keyof IntakeMade;
  bytes: Uint8Array;
  /** Of the run that a log's temperatures are laid over. */
  clock?: RunClock;
  /** Of a recording: through which rig, and how, it would be done again. */
  predict?: { rig: RigAnswering; how: Parameters<typeof predictWork>[2] };
}

/** What becomes of each, ready to be shown or stored. */
export interface IntakeMade {
  "log-look": LogPreview;
  warmth: LoggedWarmth;
  log: { rigId: string; kept: Kept };
  study: StudyFile;
  runs: RunsToTakeIn;
  predict: PredictedWork | null;
}

/**
 * Takes something large apart. Nothing is read from the store, so that a thread can do it.
 *
 * @param tell what it is at
 * @throws Problem that says where it is wrong
 */
export function takeApart(
  { kind, bytes, clock, predict }: IntakeOrder,
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
    case "predict":
      return predictWork(anyRecording(decodeLog(bytes)), predict!.rig, predict!.how);
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
