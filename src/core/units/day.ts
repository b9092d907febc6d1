import { writing, type DateStyle } from "./writing";

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

/** Writes a day: "2026-11-26", "26 November 2026". @param at ISO 8601 */
export function formatDay(at: string, style: DateStyle = writing().dates): string {
  const [year, month, day] = at.slice(0, 10).split("-") as [string, string, string];
  const named = MONTHS[Number(month) - 1];
  if (style === "2026-11-26" || !named) return at.slice(0, 10);
  return style === "26 November 2026"
    ? `${Number(day)} ${named} ${year}`
    : `${named} ${Number(day)}, ${year}`;
}

/** Writes a moment to the minute: "2026-11-26 14:05". @param at ISO 8601 */
export const formatMoment = (at: string): string => `${formatDay(at)} ${at.slice(11, 16)}`;
