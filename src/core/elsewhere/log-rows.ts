import { CELSIUS, MOST_MBPS, MOST_MS } from "../units/bounds";
import { clockSeconds, dateOrderOf, isTimeOfDay, isZoned, type DateOrder } from "./clock";
import { decimalSignOf, readNumber, type DecimalSign } from "./figure";
import { COLUMN_ROLES, type Log, type LogColumn } from "./log";

/** A line that makes no sense. */
export interface LogProblem {
  line: number;
  column: number;
  problem: string;
}

/**
 * What the times of a log are held against: moments that are the same everywhere ("world"), the date and
 * time of where it was written ("local"), the time of day there ("day"), or its own first line ("own").
 */
export type LogClock = "world" | "local" | "day" | "own";

/** How the time of a line is read. */
export interface TimeColumn {
  at: LogColumn | null;
  order: DateOrder;
  sign: DecimalSign | undefined;
}

/** A line of a log: when it was, and what its columns say in their units. */
export interface LogRow {
  line: number;
  seconds: number;
  values: Map<LogColumn, number>;
}

/** Which column tells the time, and how; or what has to be said of it first. */
export function timeOf(
  lines: Log["lines"],
  columns: readonly LogColumn[],
): TimeColumn | { problem: LogProblem } {
  const at = columns.find(({ role }) => role.startsWith("time")) ?? null;
  // Points in dates say nothing of decimals.
  const numeric = columns.filter(
    ({ role, scale }) => role !== "ignored" && !(role.startsWith("time") && scale === null),
  );
  const cells = lines
    .slice(0, 500)
    .flatMap((one) => numeric.map(({ column }) => one.cells[column - 1] ?? ""));
  const sign = decimalSignOf(cells) ?? undefined;
  if (!at || at.scale !== null) return { at, order: "month first", sign };
  const order =
    at.role === "time-day-first"
      ? "day first"
      : at.role === "time-month-first"
        ? "month first"
        : dateOrderOf(lines.map(({ cells: row }) => row[at.column - 1] ?? ""));
  if (order) return { at, order, sign };
  return {
    problem: {
      line: lines[0]!.line,
      column: at.column,
      problem: "day or month may stand first in its dates: say which this column has",
    },
  };
}

/** Numbers of seconds from here on count from 1970: the year 1980, and longer than any run. */
const SINCE_1970 = 315_532_800;

/** What the times of a log are held against. */
export function clockOf(
  { at }: TimeColumn,
  { lines }: Pick<Log, "lines">,
  [first]: readonly LogRow[],
): LogClock {
  if (!at || !first) return "own";
  if (at.scale !== null) return first.seconds >= SINCE_1970 ? "world" : "own";
  const cell = lines.find(({ line }) => line === first.line)!.cells[at.column - 1] ?? "";
  return isTimeOfDay(cell) ? "day" : isZoned(cell) ? "world" : "local";
}

/**
 * The lines of a log with their times and values.
 *
 * @param problems takes what makes no sense
 */
export function rowsOf(
  lines: Log["lines"],
  columns: readonly LogColumn[],
  { at, order, sign }: TimeColumn,
  problems: LogProblem[],
): LogRow[] {
  const numeric = columns.filter(({ role }) => role !== "ignored" && !role.startsWith("time"));
  const rows: LogRow[] = [];
  let days = 0;
  lines.forEach(({ line, cells }, i) => {
    const wrong = (column: number, problem: string) => problems.push({ line, column, problem });
    const values = new Map<LogColumn, number>();
    for (const one of numeric) {
      const cell = cells[one.column - 1] ?? "";
      const value = cell === "" ? null : readNumber(cell, sign);
      const name = `"${cell.slice(0, 40)}"`;
      if (value === null || (value < 0 && one.role !== "celsius"))
        wrong(one.column, `${name} is no number of ${COLUMN_ROLES[one.role]}`);
      else if (Math.abs(value) * (one.scale ?? 1) > mostOf(one.role))
        wrong(one.column, `${name} is more than any ${COLUMN_ROLES[one.role]} can be`);
      else values.set(one, value * (one.scale ?? 1));
    }
    const cell = at ? (cells[at.column - 1] ?? "") : "";
    let seconds = !at ? i : at.scale === null ? clockSeconds(cell, order) : null;
    if (at && at.scale !== null) {
      const value = readNumber(cell, sign);
      seconds = value === null ? null : value * at.scale;
    }
    if (seconds === null) return void wrong(at!.column, `"${cell.slice(0, 40)}" is no time`);
    const last = rows.at(-1)?.seconds ?? seconds;
    // A clock begins anew at midnight.
    if (at?.scale === null && seconds + days * 86_400 < last - 43_200) days += 1;
    if (at?.scale === null) seconds += days * 86_400;
    if (seconds < last) return void wrong(at?.column ?? 1, "is earlier than the line before");
    if (seconds - (rows[0]?.seconds ?? seconds) > MOST_MS / 1e3)
      return void wrong(at?.column ?? 1, "is more than ten years after the first line");
    rows.push({ line, seconds, values });
  });
  return rows;
}

/** More than this no column of a kind can say. */
const mostOf = (role: LogColumn["role"]): number =>
  role === "celsius"
    ? CELSIUS.most
    : role.includes("rate")
      ? MOST_MBPS
      : role.includes("counter")
        ? MOST_COUNTED
        : MOST_LOGGED;
/** What a counter of 64 bits can say in sectors of 4 KiB, bytes. */
const MOST_COUNTED = 2 ** 76;
/** Bytes are kept whole as far as numbers are exact. */
export const MOST_LOGGED = 2 ** 53 - 1;

/**
 * Spreads lines that tell the same time over the time until the next one: a clock of whole seconds tells
 * of four lines a second four times the same. At the beginning a second may have begun before the log.
 *
 * @returns how many lines stand elsewhere than they said
 */
export function spreadOverSeconds(rows: LogRow[]): number {
  const groups: LogRow[][] = [];
  for (const row of rows) {
    const group = groups.at(-1);
    if (group && group[0]!.seconds === row.seconds) group.push(row);
    else groups.push([row]);
  }
  if (groups.length === rows.length || groups.length < 2) return 0;
  const middle = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1]!;
  const apart = groups.slice(1).map(([one], i) => one!.seconds - groups[i]![0]!.seconds);
  const usual = middle([...apart]);
  const many = middle(groups.map(({ length }) => length));
  let moved = 0;
  groups.forEach((group, g) => {
    const width = Math.min(apart[g] ?? usual, usual);
    const isEnd = g === 0 || g === groups.length - 1;
    const of = isEnd ? Math.max(many, group.length) : group.length;
    const late = g === 0 ? of - group.length : 0;
    group.forEach((row, i) => {
      const at = row.seconds + ((late + i) * width) / of;
      if (at !== row.seconds) moved += 1;
      row.seconds = at;
    });
  });
  return moved;
}
