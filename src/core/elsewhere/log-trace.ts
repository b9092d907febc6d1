import type { Sample } from "../run/result";
import { plainSample } from "../run/step";
import { MB } from "../units/rate";
import { CELSIUS, MOST_MBPS, MOST_MS } from "../units/bounds";
import { clockSeconds, dateOrderOf, type DateOrder } from "./clock";
import { decimalSignOf, readNumber, type DecimalSign } from "./figure";
import { COLUMN_ROLES, type Log, type LogColumn } from "./log";

/** A line that makes no sense. */
export interface LogProblem {
  line: number;
  column: number;
  problem: string;
}

export interface LogTrace {
  samples: Sample[];
  readings: { ms: number; celsius: number }[];
  problems: LogProblem[];
  /** Times at which a counter fell: as often it began anew, or was reset. */
  wraps: number;
  /** Lines that told the same time as others, and were spread until the next one. */
  spread: number;
  /** Whether no column tells the time, so that each line counts as a second. */
  untimed: boolean;
}

/**
 * A log's trace, by what its columns are.
 *
 * Rates are of the time since the line before. A counter that falls is taken for one that has begun
 * anew at 2³² or 2⁶⁴, where it stood close below; else for one that was reset, whose bytes are not
 * known. Where a line comes much later than the others the time between is a gap, not a zero.
 *
 * @param columns as guessed, or as the tester corrected them
 */
export function traceOf({ lines }: Pick<Log, "lines">, columns: readonly LogColumn[]): LogTrace {
  const problems: LogProblem[] = [];
  const moving = columns.filter(({ role }) => /rate|bytes|counter/.test(role));
  if (moving.length === 0) {
    return {
      ...NOTHING,
      problems: [{ line: 1, column: 1, problem: "no column is a rate, bytes or a counter" }],
    };
  }
  const time = timeOf(lines, columns);
  if ("problem" in time) return { ...NOTHING, problems: [time.problem] };
  const rows = rowsOf(lines, columns, time, problems);
  if (rows.length < 2) return { ...NOTHING, problems };
  const spread = time.at ? spreadOverSeconds(rows) : 0;
  return { ...samplesOf(rows, moving, columns), problems, spread, untimed: time.at === null };
}

/** How the time of a line is read. */
interface TimeColumn {
  at: LogColumn | null;
  order: DateOrder;
  sign: DecimalSign | undefined;
}

interface Row {
  line: number;
  seconds: number;
  values: Map<LogColumn, number>;
}

function timeOf(
  lines: Log["lines"],
  columns: readonly LogColumn[],
): TimeColumn | { problem: LogProblem } {
  const at = columns.find(({ role }) => role.startsWith("time")) ?? null;
  const numeric = columns.filter(({ role }) => role !== "ignored");
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

function rowsOf(
  lines: Log["lines"],
  columns: readonly LogColumn[],
  { at, order, sign }: TimeColumn,
  problems: LogProblem[],
): Row[] {
  const numeric = columns.filter(({ role }) => role !== "ignored" && !role.startsWith("time"));
  const rows: Row[] = [];
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
const MOST_LOGGED = 2 ** 53 - 1;

/**
 * Spreads lines that tell the same time over the time until the next one: a clock of whole seconds tells
 * of four lines a second four times the same. At the beginning a second may have begun before the log.
 *
 * @returns how many lines stand elsewhere than they said
 */
function spreadOverSeconds(rows: Row[]): number {
  const groups: Row[][] = [];
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

const NOTHING: LogTrace = {
  samples: [],
  readings: [],
  problems: [],
  wraps: 0,
  spread: 0,
  untimed: false,
};

function samplesOf(
  rows: { seconds: number; values: Map<LogColumn, number> }[],
  moving: readonly LogColumn[],
  columns: readonly LogColumn[],
): Pick<LogTrace, "samples" | "readings" | "wraps"> {
  const steps = rows.slice(1).map(({ seconds }, i) => seconds - rows[i]!.seconds);
  const usual = [...steps].sort((a, b) => a - b)[steps.length >> 1] || 1;
  const counters = moving.some(({ role }) => role.includes("counter"));
  const start = rows[0]!.seconds - (counters ? 0 : usual);
  const warm = columns.find(({ role }) => role === "celsius");
  const samples: Sample[] = [];
  let wraps = 0;
  rows.forEach((row, i) => {
    const before = rows[i - 1];
    if (!before && counters) return;
    const gone = before ? row.seconds - before.seconds : usual;
    if (gone <= 0) return;
    // A rate is known for as long as lines usually take; what a counter says is of the whole time.
    const width = counters ? gone : Math.min(gone, 3 * usual) === gone ? gone : usual;
    let [bytes, written] = [0, 0];
    let known = false;
    for (const one of moving) {
      const value = row.values.get(one);
      if (value === undefined) continue;
      let amount = one.role.includes("rate") ? value * MB * width : value;
      if (one.role.includes("counter")) {
        const was = before?.values.get(one);
        if (was === undefined) continue;
        amount = value - was;
        if (amount < 0) {
          wraps += 1;
          const around = wrapOf(was, one.scale ?? 1);
          if (around === null) continue;
          amount += around;
        }
      }
      known = true;
      bytes += amount;
      if (one.role.startsWith("write")) written += amount;
    }
    if (!known || bytes > MOST_LOGGED) return;
    const sample = plainSample(
      Math.round((row.seconds - width - start) * 1e3),
      Math.round((row.seconds - start) * 1e3),
      Math.round(bytes),
    );
    samples.push({ ...sample, written: Math.min(Math.round(written), sample.bytes) });
  });
  const readings = warm
    ? rows.flatMap(({ seconds, values }) => {
        const celsius = values.get(warm);
        return celsius === undefined ? [] : [{ ms: Math.round((seconds - start) * 1e3), celsius }];
      })
    : [];
  return { samples, readings, wraps };
}

/** By how much a counter is more than it says once it has begun anew; null where it was reset. */
function wrapOf(was: number, scale: number): number | null {
  for (const bits of [32, 64]) {
    const full = 2 ** bits * scale;
    if (was <= full && was > full * 0.5) return full;
  }
  return null;
}
