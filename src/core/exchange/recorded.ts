import * as z from "zod";
import { readLog, type LogColumn } from "../elsewhere/log";
import { traceOf } from "../elsewhere/log-trace";
import { titleOf } from "../drills/drill";
import { Reading, RunEvent, type Sample } from "../run/result";
import { MOST_BYTES, MOST_MS } from "../units/bounds";
import { isLinesFile, runsOfLines } from "./lines-file";
import { RunsFile, sampleOf } from "./runs-file";
import type { TraceInput } from "../reading/read";

/** A trace out of a file, and what it is called there. */
export interface RecordedTrace extends TraceInput {
  name: string;
}

const sample = z.looseObject({
  repeat: z.number().int().nonnegative().default(0),
  from: z.number().min(-MOST_MS).max(MOST_MS),
  ms: z.number().min(-MOST_MS).max(MOST_MS),
  bytes: z.number().nonnegative().max(MOST_BYTES),
  written: z.number().nonnegative().max(MOST_BYTES).default(0),
});

/** What `nerrit measure --json` and `nerrit simulate --json` print. */
const Measured = z.looseObject({
  samples: z.array(sample).min(1, "has no samples"),
  readings: z.array(Reading.extend({ repeat: z.number().int().default(0) })).default([]),
  events: z.array(RunEvent.extend({ repeat: z.number().int().default(0) })).default([]),
  conditions: z.looseObject({ freeBytes: z.number().nullable().default(null) }).nullish(),
});

/**
 * The traces in a file: a file of runs, a document that the command printed, or the log of another
 * program.
 *
 * @param columns of a log, where they are not as guessed
 * @throws RangeError that says what the file lacks, or which line of it makes no sense
 */
export function recordedTraces(text: string, columns?: readonly LogColumn[]): RecordedTrace[] {
  if (isLinesFile(text)) return ofRunsFile(runsOfLines(text));
  const json = /^\s*[{[]/.test(text) ? parsed(text) : null;
  if (json === null) return [logTrace(text, columns)];
  if (typeof json === "object" && "format" in json) return ofRunsFile(json);
  const document = Measured.safeParse(json);
  if (!document.success) throw new RangeError(inWords(document.error));
  const { samples, readings, events, conditions } = document.data;
  const repeats = [...new Set(samples.map(({ repeat }) => repeat))];
  return repeats.map((repeat) => ({
    name: `repeat ${repeat + 1}`,
    samples: samples
      .filter((one) => one.repeat === repeat)
      .map((one): Sample => ({ requests: 0, step: 0, target: 0, ...one })),
    readings: readings.filter((one) => one.repeat === repeat),
    events: events.filter((one) => one.repeat === repeat),
    freeBytes: conditions?.freeBytes ?? null,
  }));
}

function ofRunsFile(json: unknown): RecordedTrace[] {
  const file = RunsFile.safeParse(json);
  if (!file.success) throw new RangeError(inWords(file.error));
  const traces = file.data.measurements.flatMap(({ rig, drill, runs, conditions }) =>
    runs.map(({ samples, readings, events }, repeat) => ({
      name: `${rig}, ${titleOf(drill)}, repeat ${repeat + 1}`,
      samples: samples.map(sampleOf),
      readings,
      events,
      freeBytes: conditions?.freeBytes ?? null,
    })),
  );
  return traces;
}

function logTrace(text: string, columns?: readonly LogColumn[]): RecordedTrace {
  const log = readLog(text);
  const { samples, readings, problems } = traceOf(log, columns ?? log.columns);
  const [first] = problems;
  if (first) throw new RangeError(`line ${first.line}, column ${first.column}: ${first.problem}`);
  return {
    name: "log",
    samples,
    readings: readings.map(({ ms, celsius }) => ({
      ms,
      engine: null,
      machine: null,
      celsius: { log: celsius },
    })),
  };
}

function parsed(text: string): object {
  try {
    return JSON.parse(text) as object;
  } catch (error) {
    throw new RangeError(`it is no JSON document: ${(error as Error).message}`);
  }
}

function inWords(error: z.ZodError): string {
  const [issue] = error.issues;
  return `${issue!.path.join(".") || "the document"} ${issue!.message}`;
}
