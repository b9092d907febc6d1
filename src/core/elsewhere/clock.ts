/**
 * Times as programs write them into logs: a time of day, perhaps with its date before it, in any of the
 * orders that dates are written in.
 */

/** Which of day and month stands first in a date whose year stands last. */
export type DateOrder = "day first" | "month first";

const CLOCK = String.raw`(\d{1,2}):(\d\d)(?::(\d\d(?:[.,]\d+)?))?(?:\s*(am|pm))?(?:Z|[+-]\d\d:?\d\d)?`;
const TIME_OF_DAY = new RegExp(`^${CLOCK}$`, "i");
/** Year, month and day, or day and month in either order with the year. */
const DATED = new RegExp(
  String.raw`^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})(?:[T ,]+${CLOCK})?$`,
  "i",
);

interface Dated {
  /** The three numbers of a date as they stand there. */
  date: [number, number, number];
  sign: string;
  /** Seconds of the day. */
  seconds: number;
}

/** Whether a cell is a time of day, a date, or both. */
export const isTime = (cell: string): boolean => isTimeOfDay(cell) || dated(cell) !== null;

/** Whether a cell is a time of day without a date. */
export const isTimeOfDay = (cell: string): boolean => TIME_OF_DAY.test(cell.trim());

/** A date with its time of day, and how far that is from UTC. */
const ZONED = /^\d{4}-\d\d-\d\d[T ].*(?:Z|[+-]\d\d:?\d\d)$/;

/** Whether a cell is a moment that is the same everywhere. */
export const isZoned = (cell: string): boolean => ZONED.test(cell.trim());

function dated(cell: string): Dated | null {
  const found = DATED.exec(cell.trim());
  if (!found) return null;
  const [, a, sign, b, c, ...clock] = found;
  const isYear = (digits: string) => digits.length === 4;
  if (!isYear(a!) && !isYear(c!) && c!.length !== 2) return null;
  const seconds = clock[0] === undefined ? 0 : secondsOfDay(clock);
  return seconds === null
    ? null
    : { date: [Number(a), Number(b), Number(c)], sign: sign!, seconds };
}

function secondsOfDay(clock: readonly (string | undefined)[]): number | null {
  const [hours, minutes, seconds = "0", half] = clock;
  const h = Number(hours);
  if (half && (h < 1 || h > 12)) return null;
  const hour = half ? (h % 12) + (half.toLowerCase() === "pm" ? 12 : 0) : h;
  const s = Number(seconds.replace(",", "."));
  return hour > 23 || Number(minutes) > 59 || s >= 61
    ? null
    : hour * 3600 + Number(minutes) * 60 + s;
}

/**
 * Which of day and month stands first in the dates of a log, by all of its lines: a number above twelve is
 * a day, points stand in dates that begin with the day, and lines that follow each other are never a
 * month apart.
 *
 * @returns null where both orders fit and it matters which it is
 */
export function dateOrderOf(cells: readonly string[]): DateOrder | null {
  const found = new Map<string, Dated>();
  for (const cell of cells) {
    const one = dated(cell);
    if (one && !isYearFirst(one)) found.set(one.date.join(), one);
  }
  const dates = [...found.values()];
  // One day alone is the same day in either order.
  const [first] = dates;
  if (!first) return "month first";
  if (dates.length === 1) return first.date[0] > 12 ? "day first" : "month first";
  const fits = (["day first", "month first"] as const).filter((order) => {
    const days = dates.map(({ date, sign }) =>
      sign === "." && order === "month first" ? null : dayOf(date, order),
    );
    return days.every((day, i) => day !== null && (i === 0 || Math.abs(day - days[i - 1]!) <= 1));
  });
  if (fits.length === 1) return fits[0]!;
  const able = (["day first", "month first"] as const).filter((order) =>
    dates.every(({ date }) => dayOf(date, order) !== null),
  );
  return able.length === 1 ? able[0]! : null;
}

const isYearFirst = ({ date: [first] }: Pick<Dated, "date">) => first > 31;

/** Days since 1970 of a date; null where there is no such day. */
function dayOf([a, b, c]: Dated["date"], order: DateOrder): number | null {
  const [year, month, day] = a > 31 ? [a, b, c] : order === "day first" ? [c, b, a] : [c, a, b];
  const full = year < 100 ? 2000 + year : year;
  const at = Date.UTC(full, month - 1, day);
  const date = new Date(at);
  return date.getUTCMonth() === month - 1 && date.getUTCDate() === day ? at / 86_400_000 : null;
}

/**
 * The seconds that a cell tells: since 1970 where it has a date, else of the day.
 *
 * @param order of dates whose year stands last
 * @returns null for what is no time, or no day that there is
 */
export function clockSeconds(cell: string, order: DateOrder): number | null {
  const plain = TIME_OF_DAY.exec(cell.trim());
  if (plain) return secondsOfDay(plain.slice(1));
  const iso = isZoned(cell)
    ? Date.parse(
        cell
          .trim()
          .replace(" ", "T")
          .replace(/,(\d+)/, ".$1"),
      )
    : NaN;
  if (!Number.isNaN(iso)) return iso / 1e3;
  const found = dated(cell);
  if (!found) return null;
  const day = dayOf(found.date, order);
  return day === null ? null : day * 86_400 + found.seconds;
}
