import { changeFor } from "../ballast/change";
import type { Room } from "../ballast/ballast";
import type { TargetFacts } from "../drills/parameter";
import { formatPercent } from "../units/number";
import { formatSize } from "../units/size";
import { shareFrom } from "../units/share";
import { levelOf, type Plan, type PlanState } from "./plan";

/** Where drills are done at stated fill levels: what each level leaves for them, and what it writes. */

/**
 * What is known of a place once its drive is filled to a level.
 *
 * @param level what shall be in use, 0 to 1; 0: no ballast
 * @param held bytes of ballast that lie there now
 * @param reserve bytes to leave free
 * @returns a sentence instead where the level cannot be reached, or leaves no room
 */
export function factsAt(
  level: number,
  facts: TargetFacts,
  space: Room,
  held: number,
  reserve: number,
): TargetFacts | string {
  const change = changeFor(level, space, held, reserve);
  if (typeof change === "string") return change;
  const free = space.free + held - change.bytes;
  const room = Math.max(0, free - reserve);
  return { ...facts, room, space: { ...space, free } };
}

/**
 * Bytes of ballast that are written where levels follow one another; nothing is written for a lower one.
 *
 * @param levels in the order in which they are asked for
 */
export function ballastWritten(levels: readonly number[], { free, total }: Room): number {
  let held = 0;
  let written = 0;
  for (const level of levels) {
    const change = changeFor(level, { free: free - held, total }, held, 0);
    if (typeof change === "string") continue;
    written += change.write;
    held = change.bytes;
  }
  return written;
}

/** "filling the drive to 50 %: 12 GB of 24 GB of ballast written": what a plan does between its runs. */
export function fillingWords({
  level,
  bytes,
  total,
}: Pick<Extract<PlanState, { kind: "filling" }>, "level" | "bytes" | "total">): string {
  if (level === 0) return "removing the ballast";
  const done =
    total === 0
      ? ""
      : `: ${formatSize(bytes, 1000)} of ${formatSize(total, 1000)} of ballast written`;
  return `filling the drive to ${formatPercent(level)}${done}`;
}

/** ", drive 50 % full": what is said of a drill of a plan beside its name; empty where it has no level. */
export function levelWords(plan: Plan, drill: number): string {
  const level = levelOf(plan, drill);
  if (level === null) return "";
  return level === 0 ? ", without ballast" : `, drive ${formatPercent(level)} full`;
}

/**
 * Reads fill levels as people write them: "0, 25, 50 %".
 *
 * @returns shares from 0 to 1; NaN in the place of what is no level
 */
export const levelsFrom = (text: string): number[] =>
  text
    .split(/[,;\s]+/)
    .map((word) => word.replace("%", ""))
    .filter((word) => word !== "")
    .map((word) => shareFrom(`${word}%`));
