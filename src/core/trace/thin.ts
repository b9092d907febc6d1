import type { Moment } from "./curve";

/**
 * A trace with fewer moments: neighbours are joined, so that no byte is lost. Gaps stay gaps.
 *
 * @param most how many are left at the most
 */
export function thinned<T extends Moment & { from?: number }>(
  moments: readonly T[],
  most: number,
): T[] {
  const join = Math.ceil(moments.length / Math.max(1, most));
  if (join <= 1) return [...moments];
  const joined: T[] = [];
  let count = 0;
  for (const moment of moments) {
    const last = joined.at(-1);
    const follows = last && (moment.from === undefined || moment.from - last.ms < 1);
    if (follows && count < join) {
      last.ms = moment.ms;
      last.bytes += moment.bytes;
      count += 1;
    } else {
      joined.push({ ...moment });
      count = 1;
    }
  }
  return joined;
}
