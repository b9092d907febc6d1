import Papa from "papaparse";
import * as z from "zod";
import { MOST_BYTES, MOST_MS } from "../units/bounds";
import { checkedLine } from "../units/json-lines";
import { foreignRecording, MOST_REQUESTS, ProgramNumbers, type Recording } from "./recording-file";
import { OPERATIONS, SECTOR, type RecordedRequest } from "./request";

/** The columns of a recording as a table, one request a row, in the order in which they reached the device. */
export const RECORDING_COLUMNS = [
  "seconds",
  "operation",
  "offset",
  "bytes",
  "seconds_to_answer",
  "program",
] as const;

const seconds = z.coerce
  .number()
  .nonnegative()
  .max(MOST_MS / 1e3);
const bytes = z.coerce.number().int().nonnegative().max(MOST_BYTES);

const CsvRow = z.object({
  seconds,
  operation: z.enum(OPERATIONS.map(({ name }) => name)),
  offset: bytes,
  bytes,
  seconds_to_answer: z.union([z.literal("").transform(() => null), seconds]),
  program: z.string().max(200),
});

const US = 1e6;
/** Times are kept to a tenth of a microsecond. */
const DIGITS = 7;

/** A recording as a table (RFC 4180); a name that a spreadsheet would take for a formula gets an apostrophe. */
export function csvOfRecording({ requests, programs }: Recording): string {
  const rows = requests.map(({ startUs, tookUs, kind, offset, bytes: length, program, flush }) => [
    (startUs / US).toFixed(DIGITS),
    OPERATIONS.find((one) => one.kind === kind && one.flush === flush)?.name ?? kind,
    offset,
    length,
    tookUs === null ? "" : (tookUs / US).toFixed(DIGITS),
    programs[program] ?? "",
  ]);
  const fields = [...RECORDING_COLUMNS];
  return `${Papa.unparse({ fields, data: rows }, { escapeFormulae: true })}\r\n`;
}

/** Whether a text is such a table, by its first line. */
export const isRecordingCsv = (text: string): boolean =>
  (/^\uFEFF?([^\r\n]*)/.exec(text)?.[1] ?? "")
    .split(/[,;\t]/)
    .map((name) => name.trim().replaceAll('"', ""))
    .join() === RECORDING_COLUMNS.join();

/**
 * Reads a recording out of such a table. Rows may come in any order of time; places and lengths between two
 * sectors are widened to whole ones.
 *
 * @throws RangeError that names the line that makes no sense
 */
export function recordingOfCsv(text: string): Recording {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ""), { skipEmptyLines: true });
  if (data.length - 1 > MOST_REQUESTS)
    throw new RangeError(`more than ${MOST_REQUESTS} requests in one recording`);
  const numbers = new ProgramNumbers();
  const requests = data.slice(1).map((row, i): RecordedRequest => {
    const named = Object.fromEntries(RECORDING_COLUMNS.map((name, column) => [name, row[column]]));
    const one = checkedLine(CsvRow, named, i + 2);
    const first = Math.floor(one.offset / SECTOR) * SECTOR;
    const end = Math.ceil((one.offset + one.bytes) / SECTOR) * SECTOR;
    const { kind, flush } = OPERATIONS.find(({ name }) => name === one.operation)!;
    return {
      startUs: tenths(one.seconds),
      tookUs: one.seconds_to_answer === null ? null : tenths(one.seconds_to_answer),
      kind,
      offset: first,
      bytes: kind === "flush" ? 0 : end - first,
      program: numbers.of(one.program.replace(/^'(?=[=+\-@\t\r])/, "")),
      ...(flush ? { flush } : {}),
    };
  });
  return foreignRecording("a table", requests, numbers.names);
}

const tenths = (time: number): number => Math.round(time * US * 10) / 10;
