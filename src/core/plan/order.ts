import { differences } from "../chain/difference";
import type { Rig } from "../chain/rig";
import type { Plan, PlanStep } from "./plan";

/** A plan's runs in the order in which they are done, and how that order was chosen. */
export interface Ordered {
  steps: PlanStep[];
  /** How often parts have to be swapped. */
  swaps: number;
  words: string;
}

/** Parts that several drives can hang on at once. */
const SHARED = new Set(["hub", "network-box"]);

/** Whether two rigs can be plugged in at the same time: no item can stand in two places. */
export function together(a: Rig, b: Rig): boolean {
  if (a.id === b.id) return true;
  const shared = sharedHead(a, b);
  const ids = new Set(itemsOf(a, shared));
  return !itemsOf(b, shared).some((id) => ids.has(id));
}

/** How many parts, from the host down to a hub, two rigs have in common and can share. */
function sharedHead(a: Rig, b: Rig): number {
  const differ = a.parts.findIndex(({ id }, i) => id !== b.parts[i]?.id);
  const alike = a.parts.slice(0, differ < 0 ? a.parts.length : differ);
  return alike.findLastIndex(({ kind }) => SHARED.has(kind)) + 1;
}

const itemsOf = ({ parts, beside, other }: Rig, from: number): string[] =>
  [...parts.slice(from), ...beside, ...other].map(({ id }) => id);

/**
 * Orders a plan's runs. Usually rigs that can be plugged in together take turns, so that a drift of the
 * bench (heat, fill) meets them alike, and rigs that need hands are done one after another, the most
 * alike next to one another.
 *
 * @param plan rigs by id; each must be among `rigs`
 */
export function orderSteps(plan: Plan, rigs: readonly Rig[]): Ordered {
  const chosen = plan.rigs.map(({ rigId }) => rigs.find(({ id }) => id === rigId)!);
  const groups =
    plan.order === "alternate"
      ? [chosen]
      : plan.order === "few swaps"
        ? inReach(chosen).map((rig) => [rig])
        : groupsOf(chosen);
  const turns = groups.flatMap((group) => turnsOf(plan, group));
  const warmed = plan.warmUps > 0 ? withWarmUps(turns, plan.warmUps) : turns;
  const swaps = countSwaps(warmed.map(({ rigId }) => chosen.find(({ id }) => id === rigId)!));
  return {
    steps: warmed.map((turn, i) => ({
      ...turn,
      id: `${i + 1}`,
      state: "waiting",
      measurementId: null,
      note: null,
    })),
    swaps,
    words: wordsFor(groups, swaps),
  };
}

type Turn = Pick<PlanStep, "rigId" | "drill" | "repeat" | "warmUp">;

/** Rigs that can be plugged in at once, in the order in which they need the fewest changes. */
function groupsOf(rigs: readonly Rig[]): Rig[][] {
  const groups: Rig[][] = [];
  for (const rig of inReach(rigs)) {
    const group = groups.find((others) => others.every((other) => together(other, rig)));
    if (group) group.push(rig);
    else groups.push([rig]);
  }
  return groups;
}

/** Each time the rig next that differs least from the one before. */
function inReach([first, ...others]: readonly Rig[]): Rig[] {
  if (!first) return [];
  const order = [first];
  let left = others;
  while (left.length > 0) {
    const last = order.at(-1)!;
    const next = left.toSorted(
      (a, b) => differences(last, a).length - differences(last, b).length,
    )[0]!;
    order.push(next);
    left = left.filter((rig) => rig !== next);
  }
  return order;
}

/** Everything that is done on a group, its rigs taking turns. */
const turnsOf = (plan: Plan, group: readonly Rig[]): Turn[] =>
  plan.drills.flatMap((_, drill) =>
    Array.from({ length: plan.repeats }, (_, repeat) =>
      group.map(({ id }) => ({ rigId: id, drill, repeat, warmUp: false })),
    ).flat(),
  );

/** Warm-ups before a rig's first run of each drill. */
const withWarmUps = (turns: readonly Turn[], count: number): Turn[] =>
  turns.flatMap((turn) => [
    ...(turn.repeat === 0
      ? Array.from({ length: count }, (_, repeat) => ({ ...turn, repeat, warmUp: true }))
      : []),
    turn,
  ]);

/** How often a rig has to be put together in place of one that is in its way. */
export function countSwaps(rigs: readonly Rig[]): number {
  let plugged: Rig[] = [];
  let swaps = 0;
  for (const rig of rigs) {
    if (plugged.some(({ id }) => id === rig.id)) continue;
    const kept = plugged.filter((other) => together(other, rig));
    if (kept.length < plugged.length) swaps += 1;
    plugged = [...kept, rig];
  }
  return swaps;
}

function wordsFor(groups: readonly (readonly Rig[])[], swaps: number): string {
  const turning = groups.filter((group) => group.length > 1);
  const hands =
    swaps === 0
      ? "no parts are swapped between its runs"
      : `parts are swapped ${swaps === 1 ? "once" : `${swaps} times`}`;
  if (turning.length === 0)
    return groups.length > 1 ? `One rig after another; ${hands}.` : `One rig; ${hands}.`;
  const names = turning.map((group) => group.map(({ name }) => name).join(" and ")).join("; ");
  return `Rigs take turns (${names}); ${hands}.`;
}
