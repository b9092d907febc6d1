import type { Reading } from "../run/result";
import { fromLog } from "../run/sensor";
import type { Log, LogColumn } from "./log";
import {
  clockOf,
  rowsOf,
  spreadOverSeconds,
  timeOf,
  type LogClock,
  type LogProblem,
} from "./log-rows";

/** What the temperature columns of a log say, by the head of each. */
export interface LogWarmth {
  clock: LogClock;
  moments: { seconds: number; celsius: Record<string, number> }[];
  problems: LogProblem[];
}

/** Temperatures are kept at most so often, seconds: they change slowly. */
const APART = 0.999;

/**
 * The temperatures of another program's log.
 *
 * @param columns as guessed, or as the tester corrected them; those that are no time and no temperature
 *   are not looked at
 * @throws RangeError where no column is a temperature
 */
export function warmthOfLog(
  { lines }: Pick<Log, "lines">,
  columns: readonly LogColumn[],
): LogWarmth {
  const warm = columns.filter(({ role }) => role === "celsius");
  if (warm.length === 0) throw new RangeError("No column of the log is a temperature.");
  const used = columns.filter(({ role }) => role === "celsius" || role.startsWith("time"));
  const time = timeOf(lines, used);
  if ("problem" in time) return { clock: "own", moments: [], problems: [time.problem] };
  const problems: LogProblem[] = [];
  const rows = rowsOf(lines, used, time, problems);
  if (time.at) spreadOverSeconds(rows);
  let last = -Infinity;
  const moments = rows.flatMap(({ seconds, values }) => {
    if (seconds - last < APART || values.size === 0) return [];
    last = seconds;
    const celsius = Object.fromEntries([...values].map(([one, value]) => [nameOf(one), value]));
    return [{ seconds, celsius }];
  });
  return { clock: clockOf(time, { lines }, rows), moments, problems };
}

const nameOf = ({ head, column }: LogColumn) =>
  head.replaceAll(":", " ").replace(/\s+/g, " ").trim().slice(0, 80) || `column ${column}`;

/** Before a run begins and after it ends temperatures tell of it for so long, milliseconds. */
const AROUND = 30_000;

const DAY = 86_400;

/**
 * The moments of a log on a run's clock. A log without a clock begins with the run.
 *
 * @param set how many minutes the clock there is ahead of UTC, and how many seconds the log's clock is
 *   ahead of the run's
 * @returns milliseconds after the run's first counted moment, with the temperatures of each
 */
export function onRunsClock(
  { clock, moments }: LogWarmth,
  startedAt: string,
  set: { zoneMinutes: number; aheadSeconds: number },
): { ms: number; celsius: Record<string, number> }[] {
  const [first] = moments;
  if (!first) return [];
  const started = Date.parse(startedAt) / 1e3;
  const there = started + set.zoneMinutes * 60;
  const begin = {
    world: started,
    local: there,
    day: there - DAY * daysBetween(first.seconds, moments.at(-1)!.seconds, there),
    own: first.seconds,
  }[clock];
  return moments.map(({ seconds, celsius }) => ({
    ms: Math.round((seconds - begin - set.aheadSeconds) * 1e3),
    celsius,
  }));
}

/**
 * Of moments on a run's clock those about its time, as readings of the run.
 *
 * @param endMs where the run's samples end
 * @param log what the log is called; each of its temperatures is called after it
 * @returns none where the log is of another time
 */
export function laidOver(
  moments: ReturnType<typeof onRunsClock>,
  endMs: number,
  log: string,
): Reading[] {
  return moments.flatMap(({ ms, celsius }) => {
    if (ms < -AROUND || ms > endMs + AROUND) return [];
    const named = Object.entries(celsius).map(([head, value]) => [fromLog(log, head), value]);
    return [{ ms, engine: null, machine: null, celsius: Object.fromEntries(named) }];
  });
}

/** How many days a log of times of day began after 1970 so that it is nearest to a moment. */
function daysBetween(first: number, last: number, moment: number): number {
  const days = Math.floor((moment - first) / DAY);
  const since = moment - (last + days * DAY);
  const until = first + (days + 1) * DAY - moment;
  return since > 0 && until < since ? days + 1 : days;
}
