import type { ForetoldTime } from "../replay/foretold";
import { formatDuration } from "../units/number";
import { UNNOTICED, type WorkShown } from "./works";

/** How long work would take through a rig that it was not done on. */
export interface ForetoldRow {
  letter: string;
  name: string;
  rigId: string;
  seconds: number;
  waitedSeconds: number;
}

/**
 * What ladders foretell of a piece of work: the rigs that it was not done on, and how far the prediction was off
 * where it was.
 *
 * @returns `off` is the largest miss as a share of the measured time; null where nothing was both
 */
export function foretoldRows(
  work: WorkShown,
  foretold: readonly ForetoldTime[],
  rigs: readonly { id: string; letter: string; name: string }[],
): { rows: ForetoldRow[]; off: number | null } {
  const own = foretold.filter(({ key }) => key === work.key);
  const misses = work.rows.flatMap(({ rigId, seconds }) =>
    own.filter((one) => one.rigId === rigId).map(({ ms }) => Math.abs(ms / 1e3 / seconds - 1)),
  );
  const rows = rigs.flatMap(({ id, letter, name }): ForetoldRow[] => {
    const one = own.find(({ rigId }) => rigId === id);
    if (!one || work.rows.some(({ rigId }) => rigId === id)) return [];
    const [seconds, waitedSeconds] = [one.ms / 1e3, one.waitedMs / 1e3];
    return [{ letter, name, rigId: id, seconds, waitedSeconds }];
  });
  return {
    rows: rows.toSorted((a, b) => a.seconds - b.seconds),
    off: misses.length > 0 ? Math.max(...misses) : null,
  };
}

/**
 * What ladders foretell of work that was done on no rig: "The build would take 41 s through A and 12 s through B, by
 * their ladders."
 *
 * @param rows the quickest first, at least one
 */
export function tellForetold(name: string, rows: readonly ForetoldRow[]): string {
  const [quickest, slowest] = [rows[0]!, rows.at(-1)!];
  const long = (seconds: number) => formatDuration(seconds * 1e3);
  if (rows.length === 1)
    return `${name} would take ${long(quickest.seconds)} through ${quickest.letter}, by its ladders.`;
  const isAlike = slowest.seconds <= quickest.seconds * (1 + UNNOTICED);
  return isAlike
    ? `${name} would take about as long through every rig, by their ladders: ${long(quickest.seconds)} to ${long(slowest.seconds)}.`
    : `${name} would take ${long(slowest.seconds)} through ${slowest.letter} and ${long(quickest.seconds)} through ${quickest.letter}, by their ladders.`;
}
