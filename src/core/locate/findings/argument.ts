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

/**
 * The history of the argument about a rig: what was known when it was first measured, and what each
 * set-up changed that has anything in common with it.
 *
 * @param slow what was seen of the rig
 * @param all everything that was seen, of other drills and directions too
 * @param timeOf when something was first measured, as text that sorts
 */
export function argumentOf(
  slow: Observation,
  all: readonly Observation[],
  { shelf, opinion }: { shelf: readonly Part[]; opinion: Opinion },
  timeOf: (observation: Observation) => string,
): ArgumentStep[] {
  const keys = new Set(sitesOf(slow.rig).map(({ key }) => key));
  const bears = all
    .filter(
      (one) => isAlike(one.drill, slow.drill) && sitesOf(one.rig).some(({ key }) => keys.has(key)),
    )
    .toSorted((a, b) => (timeOf(a) < timeOf(b) ? -1 : 1));
  const later = bears.filter((one) => one !== slow && timeOf(one) >= timeOf(slow));
  const order = [slow, ...later.slice(-(MOST - 1))];
  const known = all.filter((one) => !order.includes(one));
  const steps: ArgumentStep[] = [];
  let before: Located | null = null;
  order.forEach((one, i) => {
    const seen = [...known, ...order.slice(0, i + 1)];
    const located = locate(seen, shelf, { of: (o) => o === slow, next: false, opinion })[0];
    if (!located) return;
    steps.push({
      rig: one.rig,
      observedMBps: one.repeats.median,
      measurementIds: one.measurementIds,
      differs: one === slow ? [] : differences(slow.rig, one.rig).map(({ what }) => what),
      before: before && suspected(before),
      after: suspected(located),
      ruledOut: before ? ruledOut(before, located) : [],
      settled: located.settled,
      located,
    });
    before = located;
  });
  return steps;
}

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
