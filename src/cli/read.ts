import { levelWords, markWords } from "@/core/run/mark";
import fs from "node:fs";
import type { Command } from "commander";
import { readTrace, type TraceReading } from "@/core/reading/read";
import { tellReading } from "@/core/reading/reading-words";
import { decodeLog } from "@/core/elsewhere/decode";
import { recordedTraces, type RecordedTrace } from "@/core/exchange/recorded";
import { anyRecording, isRecording } from "@/core/recording/any-recording";
import { csvOfRecording } from "@/core/recording/recording-csv";
import type { Recording } from "@/core/recording/recording-file";
import { formatDuration, formatRate } from "@/core/units/number";
import { recordedWorkOf } from "@/services/recordings/recorded-work";
import { printJson, Usage } from "./exit";
import { table, wrapped } from "./lines";
import { recordingDocument, recordingText } from "./recording-text";

/** Larger than any log of a day. */
const LIMIT = 512 * 2 ** 20;

interface Options {
  run: string;
  csv?: boolean;
  json?: boolean;
}

/** `nerrit read`: what happened in a run, by its trace; what recorded work asks of a drive. */
export function addRead(program: Command): void {
  program
    .command("read")
    .description(
      "say what happened in a run (levels, cache's edge, throttling, stalls), or what recorded work asks",
    )
    .argument(
      "<file>",
      "a file of runs, a document of measure --json, a log, or a recording (docs/formats.md)",
    )
    .option("--run <n>", "which run of the file, from 1", "1")
    .option("--csv", "print the requests of a recording as a table")
    .option("--json", "print one JSON document")
    .action(read);
}

function read(file: string, options: Options): void {
  const text = textIn(file);
  try {
    if (isRecording(text)) return tellRecording(anyRecording(text), file, options);
    if (options.csv) throw new Usage(`--csv is for recordings; ${file} is none`);
    tellRun(recordedTraces(text), file, options);
  } catch (error) {
    if (error instanceof RangeError) throw new Usage(`${file}: ${error.message}`);
    throw error;
  }
}

function textIn(file: string): string {
  try {
    if (fs.statSync(file).size > LIMIT) throw new Error("it is larger than 512 MiB");
    return decodeLog(fs.readFileSync(file));
  } catch (error) {
    throw new Usage(`${file} cannot be read: ${(error as Error).message}`);
  }
}

function tellRecording(recording: Recording, file: string, { csv, json }: Options): void {
  if (csv) process.stdout.write(csvOfRecording(recording));
  else if (json) printJson(recordingDocument(recording, file, recordedWorkOf(recording, file)));
  else process.stdout.write(`${recordingText(recording).join("\n")}\n`);
}

function tellRun(traces: readonly RecordedTrace[], file: string, { run, json }: Options): void {
  const trace = traces[Number(run) - 1];
  if (!trace) throw new Usage(`--run must be a whole number from 1 to ${traces.length} ("${run}")`);
  if (trace.samples.length === 0) throw new Usage(`${file}: ${trace.name} has no samples`);
  const reading = readTrace(trace);
  if (json) printJson({ run: Number(run), runs: traces.length, ...readDocument(trace, reading) });
  else process.stdout.write(`${readText(trace, traces.length, reading).join("\n")}\n`);
}

const rounded = (value: number, digits = 3) => Number(value.toFixed(digits));

/** The document of `nerrit read --json` (docs/formats.md). */
export function readDocument({ name, samples }: RecordedTrace, reading: TraceReading) {
  const start = samples[0]!.from;
  const seconds = (ms: number) => rounded((ms - start) / 1e3);
  const { cacheEdge } = reading;
  return {
    name,
    levels: reading.levels.map(({ fromMs, toMs, fromBytes, toBytes, rateMBps, name: called }) => ({
      fromSeconds: seconds(fromMs),
      toSeconds: seconds(toMs),
      fromBytes: Math.round(fromBytes),
      toBytes: Math.round(toBytes),
      rateMBps: rounded(rateMBps),
      // The same under its earlier name (docs/formats.md).
      medianMBps: rounded(rateMBps),
      name: called,
    })),
    cacheEdge: cacheEdge && {
      bytes: Math.round(cacheEdge.bytes),
      seconds: rounded(cacheEdge.ms / 1e3),
      freeBytes: cacheEdge.freeBytes,
      cause: cacheEdge.cause,
    },
    burstMBps: rounded(reading.burstMBps),
    steadyMBps: rounded(reading.steadyMBps),
    sustainedMBps: rounded(reading.sustainedMBps),
    throttled: reading.throttled,
    events: reading.marks
      .filter(({ of }) => of === "happening")
      .map(({ ms, until, name: kind, text }) => ({
        seconds: seconds(ms),
        untilSeconds: until === null ? null : seconds(until),
        kind,
        text,
      })),
  };
}

function readText({ name, samples }: RecordedTrace, of: number, reading: TraceReading): string[] {
  const start = samples[0]!.from;
  const { marks } = reading;
  const why = marks.filter((mark) => mark.of === "level").slice(1);
  return [
    of > 1 ? `${name} (one of ${of} runs; --run takes another)` : name,
    ...wrapped(
      `Burst ${formatRate(reading.burstMBps)} MB/s, steady ${formatRate(reading.steadyMBps)} MB/s, sustained ${formatRate(reading.sustainedMBps)} MB/s.`,
    ),
    ...wrapped(tellReading(reading)),
    "",
    ...table(
      ["level", "from", "to", "MB/s"],
      reading.levels.map((level) => [
        levelWords(level, reading.marks),
        formatDuration(level.fromMs - start),
        formatDuration(level.toMs - start),
        formatRate(level.rateMBps),
      ]),
    ),
    ...why.flatMap((mark) =>
      wrapped(`${formatDuration(mark.ms - start)}, ${markWords(mark)}: ${mark.text}`, 2),
    ),
    ...marks
      .filter(({ of: what }) => what === "happening")
      .flatMap(({ ms, name: kind, text }) =>
        wrapped(`${formatDuration(ms - start)}, ${kind}: ${text}`, 2),
      ),
  ];
}
