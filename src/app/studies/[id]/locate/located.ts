import type { Compared } from "@/services/conclusions/comparison";
import { drillsDone, letterOf, type LetteredRig } from "@/core/answer/study";
import type { Part } from "@/core/chain/part";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { isAlike, requestsKey, usualDrill } from "@/core/drills/shape";
import { USUAL_DRILL } from "@/core/drills/catalogue";
import { argumentOf, type Suspected } from "@/core/locate/findings/argument";
import { boxesIn, type BoxGrid } from "@/core/locate/observations/boxes";
import { deadEnds, type DeadEnd } from "@/core/locate/dead-ends";
import { outcomesOf } from "@/core/study/outcome";
import { findingOf, heldAgainst } from "@/core/locate/findings/finding";
import { locate, type Located } from "@/core/locate/locate";
import { notCounted, type NotCounted } from "@/core/locate/observations/not-counted";
import type { Opinion } from "@/core/locate/hypotheses/opinion";
import { TOGETHER } from "@/core/locate/observations/pooled";
import { readRate } from "@/core/locate/observations/against-ledger";
import { standingOf } from "@/core/locate/findings/standing";
import { showLocated, type ShownLocated } from "@/core/locate/findings/shown";
import type { Observation } from "@/core/study/measurement";
import { ratesIn } from "@/core/units/number";
import { Direction } from "@/core/units/rate";
import type { ListedRig } from "@/ui/locate/rig-list";
import type { Asked } from "../study";

/** What is located in a study, for one drill in one direction. */
export interface LocatedStudy {
  drill: string;
  asDone: Drill;
  direction: Direction;
  simulated: boolean;
  /** What is open first, then what was found, then what is as designed. */
  rigs: ListedRig[];
  /** The rig that is asked for, or the first of them; null where nothing was measured. */
  shown: ShownLocated | null;
  /** How the argument about that rig went, step by step. */
  argument: ShownStep[];
  /** What was measured and does not count for it, with the reason. */
  notCounted: NotCounted[];
  /** Boxes of several bays, with the parts of the rig that the next move of each makes. */
  boxes: (BoxGrid & { moveParts: string[] | null })[];
  /** Rigs that do not work, and what that says. */
  deadEnds: DeadEnd[];
}

/** One step of the argument, as a page shows it. */
export interface ShownStep {
  letter: string;
  name: string;
  observedMBps: number;
  measurementId: string | null;
  differs: string[];
  before: Suspected | null;
  after: Suspected;
  ruledOut: string[];
  settled: boolean;
  /** How everything stood then: for the page as it was. */
  then: ShownLocated;
  /** The rig in question and the one that was measured, as the drawing takes them. */
  drawn: LetteredRig[];
}

const located = new WeakMap<Compared, Map<string, LocatedStudy>>();

/** What locating rests on beside the study's own runs. */
interface Means {
  shelf: readonly Part[];
  opinion: Opinion;
  /** What was seen in other studies, where the tester wants that to count; null where not. */
  elsewhere: (() => readonly Observation[]) | null;
}

/** Locates what is asked for in a study that is kept, once; without a drill, the first that was done. */
export function keptLocated(
  kept: Compared,
  means: Means,
  asked: Asked,
  rigId: string | null,
): LocatedStudy {
  const all = located.get(kept) ?? new Map<string, LocatedStudy>();
  located.set(kept, all);
  const wide = means.elsewhere !== null;
  const key = JSON.stringify([asked.drill, asked.direction, asked.unit, rigId, wide]);
  const found = all.get(key) ?? locatedIn(kept, means, asked, rigId);
  all.set(key, found);
  return found;
}

function locatedIn(
  kept: Compared,
  { shelf, opinion, elsewhere }: Means,
  { drill, direction, unit }: Asked,
  rigId: string | null,
): LocatedStudy {
  const { rigs, measurements, evidence } = kept;
  const rates = ratesIn(unit);
  const ways = [direction, ...Direction.options.filter((way) => way !== direction)];
  const way = ways.find((one) => drillsDone(measurements, one).length > 0) ?? direction;
  const name = drill ?? drillsDone(measurements, way)[0]?.name ?? USUAL_DRILL.name;
  const everything = [...evidence.of.values()].flat();
  const isAsked = ({ drill: { name: of, direction: to } }: Observation) =>
    of === name && to === way;
  const all = everything.filter(isAsked);
  const isReal = ({ origin }: Observation) => origin !== "simulated";
  const real = all.filter(isReal);
  const seen = inOneWay(real.length > 0 ? real : all);
  // Other drills and the other direction speak too, where they come from the same bench.
  const own = real.length > 0 ? everything.filter(isReal) : everything;
  const isLike = (one: Observation) => isReal(one) === real.length > 0;
  // The study's own come first: they stand for what was seen of the same set-up elsewhere.
  const beside = [...own, ...(elsewhere?.().filter(isLike) ?? [])];
  const ofStudy = new Set(seen);
  const isOwn = (one: Observation) => ofStudy.has(one);
  const outcomes = outcomesOf(measurements, rigs);
  const letters = new Map(rigs.map(({ id }, index) => [id, letterOf(index)]));
  const letter = (id: string) => letters.get(id) ?? null;
  const base = {
    drill: name,
    direction: way,
    simulated: real.length === 0 && all.length > 0,
    asDone: seen[0]?.drill ?? usualDrill(name, way),
    deadEnds: deadEnds(outcomes, own, opinion),
  };
  const show = (located: Located) => showLocated(located, rates, letter);
  const boxes = boxesIn(seen, outcomes).map((grid) => {
    const like = rigs.find(({ id }) => id === grid.move?.likeRigId);
    const ids = like?.parts.map(({ id }) => id) ?? [];
    return {
      ...grid,
      moveParts: grid.move && like ? [...ids.slice(0, -1), grid.move.driveId] : null,
    };
  });
  if (seen.length > TOGETHER) {
    // Each would take its time: one is looked at, and of the others it is said how they read.
    const list = seen.map((one) => readOf(one, way, letter)).toSorted((a, b) => a.order - b.order);
    const id = seen.some((one) => one.rig.id === rigId) ? rigId : list[0]?.rigId;
    const [found] = locate(beside, shelf, {
      of: (one) => isOwn(one as Observation) && one.rig.id === id,
      opinion,
    });
    return {
      ...base,
      rigs: list,
      shown: found ? show(found) : null,
      argument: [],
      notCounted: [],
      boxes,
    };
  }
  const order = ({ asDesigned, settled }: ShownLocated) => (asDesigned ? 2 : settled ? 1 : 0);
  const found = locate(beside, shelf, { of: (one) => isOwn(one as Observation), opinion })
    .map(show)
    .toSorted((a, b) => order(a) - order(b) || a.observedMBps - b.observedMBps);
  const shown = found.find((one) => one.rigId === rigId) ?? found[0] ?? null;
  const slow = seen.find(({ rig }) => rig.id === shown?.rigId);
  return {
    ...base,
    shown,
    boxes,
    argument: slow ? argumentShown(slow, beside, kept, { shelf, opinion }, show, letter) : [],
    notCounted: slow ? notCounted(slow, measurements, rigs, seen) : [],
    rigs: found.map(({ first, ...one }) => ({
      rigId: one.rigId,
      letter: one.letter,
      name: one.name,
      observedMBps: one.observedMBps,
      words: `${stateOf(one)}: ${first}`,
    })),
  };
}

/**
 * Of each rig what was seen with the requests that most rigs were asked for, as only those can be held
 * against each other; of a rig that was never asked for them, what it was asked for last.
 */
function inOneWay(seen: readonly Observation[]): Observation[] {
  const counts = new Map<string, number>();
  const keyOf = ({ drill }: Observation) => requestsKey(drill);
  for (const one of seen) counts.set(keyOf(one), (counts.get(keyOf(one)) ?? 0) + 1);
  const of = new Map<string, string>();
  for (const one of seen) {
    const known = of.get(one.rig.id);
    if (known === undefined || counts.get(keyOf(one))! > counts.get(known)!)
      of.set(one.rig.id, keyOf(one));
  }
  return seen.filter((one) => of.get(one.rig.id) === keyOf(one));
}

function stateOf({ asDesigned, settled, places }: Omit<ShownLocated, "first">): string {
  if (asDesigned) return "as designed";
  if (!settled) return "open";
  return places[0]?.together ? "not told apart" : "found";
}

/** The argument about a rig with nothing left to work out. */
function argumentShown(
  slow: Observation,
  all: readonly Observation[],
  { measurements }: Compared,
  means: { shelf: readonly Part[]; opinion: Opinion },
  show: (located: Located) => ShownLocated,
  letter: (id: string) => string | null,
): ShownStep[] {
  const times = new Map(measurements.map(({ id, createdAt }) => [id, createdAt]));
  const timeOf = ({ measurementIds }: { measurementIds: readonly string[] }) =>
    measurementIds.map((id) => times.get(id) ?? "").toSorted()[0] ?? "";
  const drawn = (rig: Rig, located: Located): LetteredRig => {
    const observation =
      all.find((one) => one.rig === rig && isAlike(one.drill, slow.drill)) ?? null;
    const direction = located.direction;
    const standing = rig === located.rig ? standingOf(located) : null;
    const finding = observation && findingOf(rig, direction, observation.repeats);
    return {
      letter: letter(rig.id) ?? "—",
      rig,
      observation,
      standing,
      finding: finding && heldAgainst(finding, rig, direction, observation.repeats, standing),
    };
  };
  return argumentOf(slow, all, means, timeOf).map(({ rig, located, measurementIds, ...step }) => ({
    ...step,
    letter: letter(rig.id) ?? "—",
    name: rig.name,
    measurementId: measurementIds[0] ?? null,
    then: show(located),
    drawn: [slow.rig, ...(rig === slow.rig ? [] : [rig])].map((one) => drawn(one, located)),
  }));
}

/** How a rig's rate reads against its ledger alone. */
function readOf(
  { rig, repeats }: Observation,
  direction: Direction,
  letter: (id: string) => string | null,
): ListedRig & { order: number } {
  const read = readRate(rig, direction, repeats);
  const below = read?.kind === "below";
  return {
    rigId: rig.id,
    letter: letter(rig.id) ?? "—",
    name: rig.name,
    observedMBps: repeats.median,
    words: below ? "below its ledger" : read?.kind === "above" ? "above its ledger" : "as designed",
    order: below ? (read.efficiency ?? 0) : 2,
  };
}
