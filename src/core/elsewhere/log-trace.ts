import type { Sample } from "../drills/result";
import { plainSample } from "../drills/step";
import { MB } from "../units/rate";
import { decimalSignOf, readNumber } from "./figure";
import { CLOCK, COLUMN_ROLES, type Log, type LogColumn } from "./log";

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
  const at = columns.find(({ role }) => role === "time");
  const moving = columns.filter(({ role }) => /rate|bytes|counter/.test(role));
  if (moving.length === 0) {
    return {
      ...NOTHING,
      problems: [{ line: 1, column: 1, problem: "no column is a rate, bytes or a counter" }],
    };
  }
  const numeric = columns.filter(({ role }) => role !== "ignored");
  const sign =
    decimalSignOf(
      lines
        .slice(0, 500)
        .flatMap(({ cells }) => numeric.map(({ column }) => cells[column - 1] ?? "")),
    ) ?? undefined;
  const rows: { line: number; seconds: number; values: Map<LogColumn, number> }[] = [];
  let days = 0;
  lines.forEach(({ line, cells }, i) => {
    const values = new Map<LogColumn, number>();
    for (const one of numeric) {
      const cell = cells[one.column - 1] ?? "";
      if (one.role === "time") continue;
      const value = cell === "" ? null : readNumber(cell, sign);
      if (value === null || (value < 0 && one.role !== "celsius")) {
        problems.push({
          line,
          column: one.column,
          problem: `"${cell.slice(0, 40)}" is no number of ${COLUMN_ROLES[one.role]}`,
        });
      } else values.set(one, value * (one.scale ?? 1));
    }
    let seconds = at ? secondsOf(cells[at.column - 1] ?? "", at, sign) : i;
    if (seconds === null) {
      problems.push({
        line,
        column: at!.column,
        problem: `"${(cells[at!.column - 1] ?? "").slice(0, 40)}" is no time`,
      });
      return;
    }
    const last = rows.at(-1)?.seconds ?? seconds;
    // A clock begins anew at midnight.
    if (at?.scale === null && seconds + days * 86_400 < last - 43_200) days += 1;
    if (at?.scale === null) seconds += days * 86_400;
    if (seconds < last) {
      problems.push({ line, column: at?.column ?? 1, problem: "is earlier than the line before" });
      return;
    }
    rows.push({ line, seconds, values });
  });
  if (rows.length < 2) return { ...NOTHING, problems };
  return { ...samplesOf(rows, moving, columns), problems };
}

const NOTHING: LogTrace = { samples: [], readings: [], problems: [], wraps: 0 };

function samplesOf(
  rows: { seconds: number; values: Map<LogColumn, number> }[],
  moving: readonly LogColumn[],
  columns: readonly LogColumn[],
): Omit<LogTrace, "problems"> {
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
    if (!known) return;
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

function secondsOf(cell: string, { scale }: LogColumn, sign: "." | "," | undefined): number | null {
  if (scale !== null) {
    const value = readNumber(cell, sign);
    return value === null ? null : value * scale;
  }
  if (/^\d{4}-\d\d-\d\d[T ]/.test(cell)) {
    const ms = Date.parse(cell.replace(" ", "T").replace(/,(\d+)/, ".$1"));
    return Number.isNaN(ms) ? null : ms / 1e3;
  }
  const found = CLOCK.exec(cell);
  if (!found) return null;
  const [, hours, minutes, seconds = "0", half] = found;
  const h = Number(hours);
  const day = half ? (h % 12) + (half.toLowerCase() === "pm" ? 12 : 0) : h;
  const s = Number(seconds.replace(",", "."));
  return day > 23 || Number(minutes) > 59 || s >= 61 ? null : day * 3600 + Number(minutes) * 60 + s;
}
