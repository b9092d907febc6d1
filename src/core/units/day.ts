import { writing, zoneHere, type DateStyle } from "./writing";

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/**
 * Writes a day: "2026-11-26", "26 November 2026".
 *
 * @param at ISO 8601; its own day is written, which of an instant in UTC is that of UTC: a report is the
 *   same wherever it is made
 */
export function formatDay(at: string, style: DateStyle): string {
  const [year, month, day] = at.slice(0, 10).split("-") as [string, string, string];
  const named = MONTHS[Number(month) - 1];
  if (style === "2026-11-26" || !named) return at.slice(0, 10);
  return style === "26 November 2026"
    ? `${Number(day)} ${named} ${year}`
    : `${named} ${Number(day)}, ${year}`;
}

/** An instant as the clocks of a time zone show it: "2026-11-26T14:05:09". @param at ISO 8601 */
export function onClocks(at: string, zone = zoneHere()): string {
  const instant = new Date(at);
  // The Swedish way of writing is that of ISO 8601.
  return Number.isNaN(instant.getTime())
    ? at
    : instant.toLocaleString("sv-SE", { timeZone: zone }).replace(" ", "T");
}

/** By how many minutes the clocks of a time zone are ahead of UTC at an instant. @param at ISO 8601 */
export const minutesAhead = (at: string, zone = zoneHere()): number =>
  Math.round((Date.parse(`${onClocks(at, zone)}Z`) - Date.parse(at)) / 60_000);

/** Writes the day of an instant, by the clocks of where Nerrit runs. @param at ISO 8601 */
export const formatDayHere = (at: string): string => formatDay(onClocks(at), writing().dates);

/** Writes an instant to the minute: "2026-11-26 14:05", by the clocks of where Nerrit runs. @param at ISO 8601 */
export function formatMoment(at: string): string {
  const here = onClocks(at);
  return `${formatDay(here, writing().dates)} ${here.slice(11, 16)}`;
}

/** Writes the time of day of an instant: "14:05:09", by the clocks of where Nerrit runs. @param at ISO 8601 */
export const formatClock = (at: string): string => onClocks(at).slice(11, 19);
