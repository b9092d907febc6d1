import { strToU8, unzipSync } from "fflate";
import { visit } from "jsonc-parser";
import Papa from "papaparse";
import { formatSize } from "../units/size";
import { holdsTooMuch } from "./json-size";
import type { RecordedRun } from "./runs-file";
import { zipOf } from "./zip";

/**
 * A study with long traces: a zip of its document and one CSV for each trace. Small ones are the
 * document alone.
 */

const DOCUMENT = "study.json";
const TRACE = /^traces\/[\w-]{1,100}\.csv$/;
const COLUMNS = ["from_ms", "ms", "bytes", "written", "requests", "step", "target"];

/** Samples that a document holds by itself; what has more goes into an archive. */
export const MOST_IN_DOCUMENT = 20_000;
/** What a study's file may hold as it is: what is written can be read again. */
export const MOST_IN_FILE = 64 * 2 ** 20;
/** What an archive may hold when it is unpacked, and how many files. */
const MOST_BYTES = 128 * 2 ** 20;
const MOST_FILES = 20_001;

/** Ends a search once it has found. */
const FOUND = new Error("found");

/** A file that is not what it should be, with where and why. */
export class FileProblem extends Error {}

type RunWithTrace = Omit<RecordedRun, "samples"> & {
  samples?: RecordedRun["samples"];
  trace?: string;
};
type Document = { runs?: { runs?: RunWithTrace[] }[] };

/**
 * Packs a study's document, its traces taken out of it.
 *
 * @param most bytes that the archive may unpack to: no more than is read again
 * @returns bytes of a zip
 * @throws FileProblem where it would be larger
 */
export function packStudy(document: Document, most = MOST_BYTES): Uint8Array {
  const files: Record<string, Uint8Array> = {};
  const runs = document.runs?.map((run, i) => ({
    ...run,
    ...(run.runs
      ? {
          runs: run.runs.map(({ samples = [], ...rest }, j) => {
            if (samples.length === 0) return { ...rest, samples };
            const trace = `traces/${i + 1}-${j + 1}.csv`;
            files[trace] = strToU8(`${Papa.unparse({ fields: COLUMNS, data: samples })}\r\n`);
            return { ...rest, trace };
          }),
        }
      : {}),
  }));
  files[DOCUMENT] = strToU8(`${JSON.stringify({ ...document, runs }, null, 2)}\n`);
  const total = Object.values(files).reduce((sum, { length }) => sum + length, 0);
  if (total > most || Object.keys(files).length > MOST_FILES)
    throw new FileProblem(
      `The study with its traces comes to ${formatSize(total)}; a file holds ${formatSize(most)} at most. Remove runs with long traces, or save them as files of runs.`,
    );
  return zipOf(files);
}

/**
 * Reads a study's file, a document or an archive, as far as its form goes.
 *
 * @param most bytes that an archive may unpack to
 * @returns what it says, still to be held against the schema
 * @throws FileProblem that says where it is wrong
 */
export function readStudy(bytes: Uint8Array, most = MOST_BYTES): unknown {
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return readDocument(bytes, "the file");
  const files = unpacked(bytes, most);
  const document = files[DOCUMENT];
  if (!document) throw new FileProblem(`The archive holds no ${DOCUMENT}.`);
  const study = readDocument(document, DOCUMENT) as Document;
  if (!Array.isArray(study?.runs)) return study;
  return {
    ...study,
    runs: study.runs.map((run) =>
      Array.isArray(run?.runs)
        ? { ...run, runs: run.runs.map((one) => withTrace(one, files)) }
        : run,
    ),
  };
}

/** @throws FileProblem with line and column */
function readDocument(bytes: Uint8Array, name: string): unknown {
  if (holdsTooMuch(bytes))
    throw new FileProblem(`${name} holds more than any study does: millions of lists or objects.`);
  const text = textOf(bytes, name);
  try {
    return notEndless(JSON.parse(text));
  } catch (error) {
    if (error instanceof FileProblem) throw error;
    throw new FileProblem(`${whereWrong(text)}: this is no JSON.`);
  }
}

/** The longest list of a study's file; one that is much longer takes minutes to be held against its schema. */
const MOST_LISTED = 20_000;

function notEndless(document: unknown): unknown {
  for (const [name, value] of Object.entries(document ?? {}))
    if (Array.isArray(value) && value.length > MOST_LISTED)
      throw new FileProblem(`${name}: at most ${MOST_LISTED} entries.`);
  return document;
}

/** Where a text is no JSON any more, as editors count. The runtime's own parser does not always say. */
function whereWrong(text: string): string {
  let at = text.length;
  try {
    visit(
      text,
      {
        onError(_code, offset) {
          at = offset;
          throw FOUND;
        },
      },
      { disallowComments: true },
    );
  } catch (error) {
    // What is nested too deep for it is wrong somewhere: at the end, as far as is known.
    if (error !== FOUND && !(error instanceof RangeError)) throw error;
  }
  const before = text.slice(0, at).split("\n");
  return `Line ${before.length}, column ${before.at(-1)!.length + 1}`;
}

function textOf(bytes: Uint8Array, name: string): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    throw new FileProblem(`${name} is not text in UTF-8.`);
  }
}

/** Unpacks what an archive should hold; its sizes are looked at before anything is unpacked. */
function unpacked(bytes: Uint8Array, most: number): Record<string, Uint8Array> {
  let [total, count] = [0, 0];
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name !== DOCUMENT && !TRACE.test(name)) {
          throw new FileProblem(
            `The archive holds "${name.slice(0, 80)}", which is no part of a study.`,
          );
        }
        total += originalSize;
        count += 1;
        if (total > most || count > MOST_FILES) {
          throw new FileProblem(`The archive unpacks to more than ${formatSize(most)}.`);
        }
        return true;
      },
    });
    return files;
  } catch (error) {
    if (error instanceof FileProblem) throw error;
    throw new FileProblem("The archive is damaged, or no zip.");
  }
}

function withTrace(run: RunWithTrace, files: Record<string, Uint8Array>): unknown {
  if (typeof run?.trace !== "string" || run.samples) return run;
  const { trace: name, ...rest } = run;
  const file = files[name];
  if (!file) throw new FileProblem(`The archive holds no trace "${name.slice(0, 80)}".`);
  const { data, errors } = Papa.parse<string[]>(textOf(file, name), { skipEmptyLines: true });
  const head = data.shift();
  if (errors[0] || head?.join() !== COLUMNS.join()) {
    throw new FileProblem(`${name}, line 1: its columns are not ${COLUMNS.join(", ")}.`);
  }
  const samples = data.map((row, i) => {
    const values = row.map(Number);
    const wrong = row.findIndex((cell, j) => cell.trim() === "" || !Number.isFinite(values[j]));
    if (row.length !== COLUMNS.length || wrong >= 0) {
      const column = wrong >= 0 ? COLUMNS[wrong] : COLUMNS.at(-1);
      throw new FileProblem(`${name}, line ${i + 2}, ${column}: must be a number.`);
    }
    return values;
  });
  return { ...rest, samples };
}
