import { formatPercent } from "../units/number";
import { formatSize } from "../units/size";
import { fillOf, type Room } from "./ballast";

/** What has to be done for a file system to be filled to a level. */
export interface BallastChange {
  /** Bytes of ballast there will be. */
  bytes: number;
  /** Bytes to write, or to remove; one of them is 0. */
  write: number;
  remove: number;
}

/** Ballast comes in whole requests of this size, bytes, as drives take them well. */
const BLOCK = 2 ** 20;

/**
 * What has to be written or removed for a file system to be filled to a level.
 *
 * @param level what shall be in use, 0 to 1; 0 removes all ballast
 * @param room as it is now
 * @param held bytes of ballast that lie there already
 * @param reserve bytes to leave free
 * @returns a sentence instead where the level cannot be reached
 */
export function changeFor(
  level: number,
  room: Room,
  held: number,
  reserve: number,
): BallastChange | string {
  if (level === 0) return { bytes: 0, write: 0, remove: held };
  const { free, total } = room;
  const others = total - free - held;
  const wanted = Math.floor((level * total - others) / BLOCK) * BLOCK;
  if (wanted < 0) {
    const without = fillOf({ free: free + held, total });
    return `The file system is ${formatPercent(without)} full without ballast, more than the ${formatPercent(level)} asked for. Ask for a higher level.`;
  }
  if (others + wanted + reserve > total) {
    const most = Math.max(0, Math.floor((1 - reserve / total) * 100) / 100);
    const ask = most > 0 ? `Ask for at most ${formatPercent(most)}, or set` : "Set";
    return `At ${formatPercent(level)} the reserve of ${formatSize(reserve)} would not stay free. ${ask} a smaller reserve.`;
  }
  return { bytes: wanted, write: Math.max(0, wanted - held), remove: Math.max(0, held - wanted) };
}
