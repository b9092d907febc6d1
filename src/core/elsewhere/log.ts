import Papa from "papaparse";
import { MB } from "../units/rate";
import { isTime } from "./clock";
import { readNumber, readUnit } from "./figure";
import { unitIn } from "./column";
import { monitorTable } from "./monitors";

/**
 * The log of another program: time and rate, bytes or counters in columns. What each column is, is
 * guessed from its head and its values, shown, and can be said otherwise.
 */

export const COLUMN_ROLES = {
  time: "time",
  "time-day-first": "time, day before month",
  "time-month-first": "time, month before day",
  rate: "rate",
  "read-rate": "rate, reading",
  "write-rate": "rate, writing",
  bytes: "bytes since the line before",
  "read-bytes": "bytes read since the line before",
  "write-bytes": "bytes written since the line before",
  counter: "counter of bytes",
  "read-counter": "counter of bytes read",
  "write-counter": "counter of bytes written",
  celsius: "temperature, °C",
  ignored: "left out",
} as const;
export type ColumnRole = keyof typeof COLUMN_ROLES;

export interface LogColumn {
  /** As people count. */
  column: number;
  head: string;
  role: ColumnRole;
  /** What one of it is: seconds of a time, MB/s of a rate, bytes of a size; null for a clock time. */
  scale: number | null;
}

export interface Log {
  columns: LogColumn[];
  /** Lines with values, and the number of the first of them. */
  lines: { line: number; cells: string[] }[];
  /** The same for two logs whose columns mean the same. */
  shape: string;
}

const MOST_LINES = 2_000_000;

/**
 * Takes a log apart.
 *
 * @throws RangeError that says what is missing
 */
export function readLog(text: string): Log {
  refuseEndless(text);
  const plain = text.replace(/^\uFEFF/, "");
  const rows = rowsOf(monitorTable(plain) ?? plain);
  const first = rows.findIndex(({ cells }) => isValues(cells));
  if (first < 0) throw new RangeError("No line of it has numbers in columns.");
  const width = rows[first]!.cells.length;
  // What a program says as it ends has no digit in it.
  const last = rows.findLastIndex(({ cells }) => cells.some((cell) => /\d/.test(cell)));
  const lines = rows.slice(first, last + 1).filter(({ cells }) => cells.length > 1 || width === 1);
  if (lines.length < 2) throw new RangeError("It has one line of numbers; a log needs several.");
  const heads = headsOf(rows.slice(0, first), width);
  const columns = oneClock(
    heads.map((head, i) => guess(head, i, lines)),
    lines,
  );
  if (!columns.some(({ role }) => role === "time")) {
    const at = columns.findIndex(({ role }) => role === "ignored");
    if (at >= 0 && heads.every((head) => head === ""))
      columns[at] = { ...columns[at]!, role: "time", scale: 1 };
  }
  return {
    columns,
    lines,
    shape: heads.map((head) => head.toLowerCase()).join("|") || `${width} columns`,
  };
}

/** Longer lines no log has; splitting one of many megabytes takes minutes. */
const LONGEST_LINE = 64 * 1024;

function refuseEndless(text: string): void {
  let line = 1;
  for (let from = 0; from < text.length; line++) {
    const found = text.indexOf("\n", from);
    const end = found < 0 ? text.length : found;
    if (end - from > LONGEST_LINE)
      throw new RangeError(`Line ${line} is longer than 64 KiB: this is no log in lines.`);
    from = end + 1;
  }
}

/** Where a date and a time of day stand in columns of their own, the time of day is the time. */
function oneClock(columns: LogColumn[], lines: Log["lines"]): LogColumn[] {
  const clocks = columns.filter(({ role, scale }) => role === "time" && scale === null);
  const ofDay = clocks.find(({ column }) => (lines[0]!.cells[column - 1] ?? "").includes(":"));
  if (clocks.length < 2 || !ofDay) return columns;
  return columns.map((one) =>
    clocks.includes(one) && one !== ofDay ? { ...one, role: "ignored", scale: 1 } : one,
  );
}

function rowsOf(text: string): { line: number; cells: string[] }[] {
  let count = 0;
  for (let at = text.indexOf("\n"); at >= 0; at = text.indexOf("\n", at + 1)) count += 1;
  if (count > MOST_LINES) throw new RangeError(`It has more than ${MOST_LINES} lines.`);
  const sample = text.slice(0, 20_000);
  const counts = ["\t", ";", ","].map((sign) => sample.split(sign).length - 1);
  const lines = sample.split("\n").filter((line) => line.trim()).length;
  const at = counts.findIndex((count) => count >= lines / 2);
  const delimiter = ["\t", ";", ","][at];
  if (delimiter) {
    const rows: { line: number; cells: string[] }[] = [];
    const { data } = Papa.parse<string[]>(text, { delimiter });
    data.forEach((cells, i) => {
      if (cells.some((cell) => cell.trim()))
        rows.push({ line: i + 1, cells: cells.map((c) => c.trim()) });
    });
    return rows;
  }
  return text
    .split("\n")
    .map((line, i) => ({ line: i + 1, cells: line.trim().split(/\s+/) }))
    .filter(({ cells }) => cells[0] !== "");
}

const isNumber = (cell: string) => readNumber(cell) !== null;

/** A line of values has numbers, and nothing but numbers, times and perhaps a name. */
const isValues = (cells: readonly string[]) =>
  cells.filter((cell) => isNumber(cell)).length >= Math.max(1, (cells.length - 2) / 2) &&
  cells.some((cell) => isNumber(cell) || isTime(cell));

/** The heads of columns, with the units that stand in a line of their own below them. */
function headsOf(rows: readonly { cells: string[] }[], width: number): string[] {
  const fitting = rows.filter(({ cells }) => cells.length === width).slice(-2);
  return Array.from({ length: width }, (_, i) =>
    fitting
      .map(({ cells }) => cells[i] ?? "")
      .join(" ")
      .trim(),
  );
}

const READS = /read|\brd|\brx|in\b|\bbi\b|r\/s|\brkb|\brmb|^rd|rsec|receiv/i;
const WRITES = /writ|wrtn|\bwr|\btx|out\b|\bbo\b|\bwkb|\bwmb|sent/i;
const TIMES = /time|clock|date|second|elapsed|^t$|^s$|^ms$|\bt\b/i;
const WARMTH = /temp|celsius|°c|degc/i;
const RATES = /rate|speed|throughput|mbps|bw|bandwidth/i;

function guess(head: string, i: number, lines: Log["lines"]): LogColumn {
  const cells = lines.slice(0, 200).map(({ cells: row }) => row[i] ?? "");
  const column = { column: i + 1, head };
  const values = cells.map((cell) => readNumber(cell));
  const numbers = values.flatMap((value) => value ?? []);
  if (cells.every(isTime)) return { ...column, role: "time", scale: null };
  if (numbers.length < cells.length / 2) return { ...column, role: "ignored", scale: 1 };
  const unit = rateInName(head);
  const way = READS.test(head) ? "read-" : WRITES.test(head) ? "write-" : "";
  if (WARMTH.test(head)) return { ...column, role: "celsius", scale: 1 };
  if (unit) return { ...column, role: `${way}rate`, scale: unit };
  const falls = numbers.filter((value, k) => k > 0 && value < numbers[k - 1]!).length;
  // A clock may be set back once, and a counter may begin anew.
  const rising = falls <= Math.max(1, numbers.length / 50);
  const size = sizeIn(head);
  if (TIMES.test(head) && !way && rising)
    return { ...column, role: "time", scale: timeScale(head, numbers) };
  if (RATES.test(head)) return { ...column, role: `${way}rate`, scale: 1 };
  if (size !== null) {
    const what =
      /total|cumul|counter|sum/i.test(head) || (rising && grows(numbers)) ? "counter" : "bytes";
    return { ...column, role: `${way}${what}`, scale: size };
  }
  if (way) {
    return rising && grows(numbers)
      ? { ...column, role: `${way}counter`, scale: 1 }
      : { ...column, role: "ignored", scale: 1 };
  }
  if (i === 0 && rising && grows(numbers))
    return { ...column, role: "time", scale: timeScale(head, numbers) };
  return { ...column, role: "ignored", scale: 1 };
}

const grows = (values: readonly number[]) => new Set(values).size > values.length / 2;

/** A rate in a head without a slash between, as system monitors write: "MB_read/s", "rkB/s", "wMB/s". */
function rateInName(head: string): number | null {
  const plain = unitIn(head);
  if (plain) return plain.kind === "rate" ? plain.mbps : null;
  const found = /(?:^|[^a-z])(?:r|w|bi|bo)?_?(k|m|g|ki|mi|gi)(b)(?:_?\w*)?\/s/i.exec(head);
  const unit = found && readUnit(`${found[1]}B/s`);
  return unit?.kind === "rate" ? unit.mbps : null;
}

/** What one of a column of sizes is, by its head: bytes, kB, sectors of 512 bytes. */
function sizeIn(head: string): number | null {
  if (/sectors?/i.test(head)) return 512;
  const found = /(?:^|[^a-z])(?:(ki|mi|gi|ti|k|m|g|t)b(?:ytes?)?|bytes?)(?![a-z/])/i.exec(head);
  if (!found) return null;
  const unit = readUnit(`${found[1] ?? ""}B/s`);
  return unit?.kind === "rate" ? unit.mbps * MB : null;
}

/** Milliseconds by the head, or where a second would be too long for what is told. */
function timeScale(head: string, values: readonly number[]): number {
  if (/\bms\b|milli|_ms/i.test(head)) return 1e-3;
  if (/µs|\bus\b|micro/i.test(head)) return 1e-6;
  if (/\bmin/i.test(head)) return 60;
  // Since 1970, in milliseconds: no log is of the year 5000.
  return values[0]! > 1e11 ? 1e-3 : 1;
}
