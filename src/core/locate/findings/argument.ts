import { differences } from "../../chain/difference";
import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { isAlike } from "../../drills/shape";
import { locate, placesOf, type Located } from "../locate";
import type { Opinion } from "../hypotheses/opinion";
import type { Observation } from "../observations/observation";
import { sitesOf } from "../hypotheses/site";
import { placeName } from "./sentences";

/** One step of the argument about a rig: a set-up that was measured, and what that changed. */
export interface ArgumentStep {
  /** What was measured. */
  rig: Rig;
  observedMBps: number;
  measurementIds: readonly string[];
  /** In what it differs from the rig that is asked about; empty for that rig itself. */
  differs: string[];
  /** What was likeliest before and after; null where nothing had been measured. */
  before: Suspected | null;
  after: Suspected;
  /** What was possible before and is as good as ruled out now. */
  ruledOut: string[];
  settled: boolean;
  /** How everything stood then. */
  located: Located;
}

/** A place that may hold a rig back, and how likely. */
export interface Suspected {
  name: string;
  probability: number;
}

/** More steps than these are not gone through one by one. */
const MOST = 16;
/** A place below this is ruled out. */
const OUT = 0.02;
const POSSIBLE = 0.04;

/** What an argument goes over beside what was seen. */
interface Around {
  shelf: readonly Part[];
  opinion: Opinion;
}
/** When something was first measured, as text that sorts. */
type TimeOf = (observation: Observation) => string;

/**
 * The history of the argument about a rig: what was known when it was first measured, and what each
 * set-up changed that has anything in common with it.
 *
 * @param slow what was seen of the rig
 * @param all everything that was seen, of other drills and directions too
 */
export const argumentOf = (
  slow: Observation,
  all: readonly Observation[],
  around: Around,
  timeOf: TimeOf,
): ArgumentStep[] => argumentsOf([slow], all, around, timeOf)[0]!;

/**
 * The same about several rigs, in their order. Their histories mostly pass through the same states of what was
 * known, and each of those is weighed once.
 */
export function argumentsOf(
  slow: readonly Observation[],
  all: readonly Observation[],
  around: Around,
  timeOf: TimeOf,
): ArgumentStep[][] {
  const orders = slow.map((one) => orderOf(one, all, timeOf));
  const histories = orders.map((order) => {
    const known = all.filter((other) => !order.includes(other));
    return order.map((_, i) => new Set([...known, ...order.slice(0, i + 1)]));
  });
  const located = locatedOnce(slow, histories, all, around);
  return slow.map((one, at) => {
    const steps: ArgumentStep[] = [];
    let before: Located | null = null;
    for (const [i, added] of orders[at]!.entries()) {
      const now = located(at, i);
      if (!now) continue;
      steps.push(stepOf(one, added, before, now));
      before = now;
    }
    return steps;
  });
}

/** The rig itself, and what was measured later and bears on it, in the order of its measuring. */
function orderOf(slow: Observation, all: readonly Observation[], timeOf: TimeOf): Observation[] {
  const keys = new Set(sitesOf(slow.rig).map(({ key }) => key));
  const later = all
    .filter(
      (one) =>
        one !== slow &&
        timeOf(one) >= timeOf(slow) &&
        isAlike(one.drill, slow.drill) &&
        sitesOf(one.rig).some(({ key }) => keys.has(key)),
    )
    .toSorted((a, b) => (timeOf(a) < timeOf(b) ? -1 : 1));
  return [slow, ...later.slice(-(MOST - 1))];
}

/**
 * What is located of each rig at each step of its history.
 *
 * @param histories for each rig, what was known at each step
 */
function locatedOnce(
  slow: readonly Observation[],
  histories: readonly (readonly ReadonlySet<Observation>[])[],
  all: readonly Observation[],
  { shelf, opinion }: Around,
): (rig: number, step: number) => Located | undefined {
  const keyOf = (known: ReadonlySet<Observation>) =>
    all.map((one) => (known.has(one) ? "1" : "0")).join("");
  const asked = new Map<string, Observation[]>();
  for (const [at, history] of histories.entries())
    for (const known of history) {
      const key = keyOf(known);
      asked.set(key, [...(asked.get(key) ?? []), slow[at]!]);
    }
  const found = new Map<string, Map<Observation, Located>>();
  return (rig, step) => {
    const known = histories[rig]![step]!;
    const key = keyOf(known);
    if (!found.has(key)) {
      const seen = all.filter((one) => known.has(one));
      found.set(key, eachLocated(asked.get(key)!, seen, shelf, opinion));
    }
    return found.get(key)!.get(slow[rig]!);
  };
}

/** What is located of each of several rigs. What was seen of one rig twice is asked about apart. */
function eachLocated(
  asked: readonly Observation[],
  seen: readonly Observation[],
  shelf: readonly Part[],
  opinion: Opinion,
): Map<Observation, Located> {
  const isTwice = (one: Observation) =>
    asked.some((other) => other !== one && other.rig.id === one.rig.id);
  const together = asked.filter((one) => !isTwice(one));
  const groups = [together, ...asked.filter(isTwice).map((one) => [one])];
  const found = new Map<Observation, Located>();
  for (const group of groups) {
    const located = locate(seen, shelf, { of: (o) => group.includes(o), next: false, opinion });
    for (const one of group) {
      const own = located.find(({ rig }) => rig.id === one.rig.id);
      if (own) found.set(one, own);
    }
  }
  return found;
}

const stepOf = (
  slow: Observation,
  added: Observation,
  before: Located | null,
  located: Located,
): ArgumentStep => ({
  rig: added.rig,
  observedMBps: added.repeats.median,
  measurementIds: added.measurementIds,
  differs: added === slow ? [] : differences(slow.rig, added.rig).map(({ what }) => what),
  before: before && suspected(before),
  after: suspected(located),
  ruledOut: before ? ruledOut(before, located) : [],
  settled: located.settled,
  located,
});

function suspected(located: Located): Suspected {
  const [top] = placesOf(located.explanations);
  const [first] = top?.explanations ?? [];
  return first
    ? { name: placeName(first, located), probability: top!.probability }
    : { name: "nothing that is known", probability: 0 };
}

/** Names of the places that fell out, the likeliest before first. */
function ruledOut(before: Located, after: Located): string[] {
  const chances = chancesOf(after);
  return [...chancesOf(before)]
    .filter(([place, { chance }]) => chance >= POSSIBLE && (chances.get(place)?.chance ?? 0) < OUT)
    .toSorted((a, b) => b[1].chance - a[1].chance)
    .map(([, { name }]) => name);
}

function chancesOf(located: Located): Map<string, { chance: number; name: string }> {
  const found = new Map<string, { chance: number; name: string }>();
  for (const one of located.explanations) {
    const known = found.get(one.place)?.chance ?? 0;
    found.set(one.place, { chance: known + one.probability, name: placeName(one, located) });
  }
  return found;
}
