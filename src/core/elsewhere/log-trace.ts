import type { Sample } from "../run/result";
import { plainSample } from "../run/step";
import { MB } from "../units/rate";
import type { Log, LogColumn } from "./log";
import {
  clockOf,
  MOST_LOGGED,
  rowsOf,
  spreadOverSeconds,
  timeOf,
  type LogClock,
  type LogProblem,
  type LogRow,
} from "./log-rows";

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
  /** When its first sample began, by which clock; null where it has none. */
  begins: { clock: LogClock; seconds: number } | null;
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
  const { start, ...moved } = samplesOf(rows, moving, columns);
  const begins = { clock: clockOf(time, { lines }, rows), seconds: start };
  return { ...moved, problems, spread, untimed: time.at === null, begins };
}

const NOTHING: LogTrace = {
  samples: [],
  readings: [],
  problems: [],
  wraps: 0,
  spread: 0,
  untimed: false,
  begins: null,
};

function samplesOf(
  rows: readonly LogRow[],
  moving: readonly LogColumn[],
  columns: readonly LogColumn[],
): Pick<LogTrace, "samples" | "readings" | "wraps"> & { start: number } {
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
  return { samples, readings, wraps, start };
}

/** By how much a counter is more than it says once it has begun anew; null where it was reset. */
function wrapOf(was: number, scale: number): number | null {
  for (const bits of [32, 64]) {
    const full = 2 ** bits * scale;
    if (was <= full && was > full * 0.5) return full;
  }
  return null;
}
