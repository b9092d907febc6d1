import { differences, type Difference } from "../../chain/difference";
import { PART_KIND_NAMES } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { minutesFor, type MinutesOf, type Opinion } from "../hypotheses/opinion";

const OF_CONDITION: Record<string, MinutesOf> = {
  "file system": "fileSystem",
  "driver mode": "transport",
  host: "host",
  bay: "bay",
};

/** Whose minutes a change takes by hand; null for what is no change at the bench. */
export const minutesOfChange = (change: Difference): MinutesOf | null =>
  change.kind === "part"
    ? change.a && change.b
      ? change.b.kind
      : "without"
    : (OF_CONDITION[change.kind] ?? null);

/** One change of several, and how long it takes by hand. */
export interface SingleChange {
  what: string;
  minutes: number;
}

/**
 * What has to change at once to come from one rig to another, each with its minutes: a difference in rate
 * could be put down to any of them.
 *
 * @param plugged the rigs that are put together now; the change begins at the one that is most alike
 * @returns none where one thing changes, or nothing is known
 */
export function singleChanges(
  plugged: readonly Rig[],
  next: Rig,
  opinion: Opinion,
): SingleChange[] {
  const [fewest = []] = plugged
    .map((rig) => differences(rig, next))
    .toSorted((a, b) => a.length - b.length);
  const changes = fewest.flatMap((change) => {
    const of = minutesOfChange(change);
    return of ? [{ what: nameOf(change), minutes: minutesFor(opinion, of) }] : [];
  });
  return changes.length > 1 ? changes : [];
}

function nameOf(change: Difference): string {
  if (change.kind !== "part") return change.kind;
  const part = (change.b ?? change.a)!;
  return `${change.b ? "" : "without "}${PART_KIND_NAMES[part.kind]} ${part.name}`;
}
