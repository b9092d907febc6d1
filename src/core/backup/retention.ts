import type { Backup, BackupSettings } from "./backup";

/** How many backups before an update or a restore are kept, whatever else is. */
const BEFORE = 5;

const DAY_MS = 86_400e3;

/**
 * The backups that are not needed any more. Of the daily ones the latest of each of so many days, weeks (from Monday)
 * and months is kept, in UTC, counted by those that there are: a month without Nerrit costs none. Those that were made
 * by hand stay until somebody removes them.
 */
export function needless(
  backups: readonly Backup[],
  { days, weeks, months }: Pick<BackupSettings, "days" | "weeks" | "months">,
): Backup[] {
  const latestFirst = backups.toSorted((a, b) => (a.at < b.at ? 1 : -1));
  const daily = latestFirst.filter(({ kind }) => kind === "daily");
  const before = latestFirst.filter(({ kind }) => kind.startsWith("before-"));
  const kept = new Set([
    ...latestOfEach(daily, dayOf, days),
    ...latestOfEach(daily, weekOf, weeks),
    ...latestOfEach(daily, monthOf, months),
    // The latest stays, whatever is asked for: it may be the only one.
    ...daily.slice(0, 1),
    ...before.slice(0, BEFORE),
  ]);
  return latestFirst.filter((one) => one.kind !== "by-hand" && !kept.has(one));
}

/** The latest of each of so many periods. @param backups the latest first */
function latestOfEach(
  backups: readonly Backup[],
  periodOf: (at: string) => string,
  periods: number,
): Backup[] {
  const found = new Map<string, Backup>();
  for (const backup of backups) {
    const period = periodOf(backup.at);
    if (!found.has(period)) found.set(period, backup);
  }
  return [...found.values()].slice(0, periods);
}

const dayOf = (at: string): string => at.slice(0, 10);
const monthOf = (at: string): string => at.slice(0, 7);

/** The Monday of its week. */
function weekOf(at: string): string {
  const day = Date.parse(`${dayOf(at)}T00:00:00Z`);
  const sinceMonday = (new Date(day).getUTCDay() + 6) % 7;
  return new Date(day - sinceMonday * DAY_MS).toISOString().slice(0, 10);
}
