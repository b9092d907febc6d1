import type { Rig } from "../chain/rig";
import type { Conclusions } from "../conclude/conclusions";
import { machineShown } from "../machine/machine-stage";
import { drillNamed, USUAL_DRILL } from "../drills/catalogue";
import type { Drill } from "../drills/drill";
import { asWay } from "../drills/kind";
import { isAlike, usualDrill } from "../drills/shape";
import { deadEnds, type DeadEnd } from "../locate/dead-ends";
import { degreeOf } from "../locate/findings/certainty";
import { argumentOf, type Suspected } from "../locate/findings/argument";
import { findingOf, heldAgainst } from "../locate/findings/finding";
import { showLocated, type ShownLocated } from "../locate/findings/shown";
import { standingOf } from "../locate/findings/standing";
import type { Located } from "../locate/locate";
import { readRate } from "../locate/observations/against-ledger";
import { boxesIn, type BoxGrid } from "../locate/observations/boxes";
import { notCounted, type NotCounted } from "../locate/observations/not-counted";
import type { Observation } from "../study/measurement";
import { shareStages, type ShareStages } from "../network/share-stages";
import { outcomesOf } from "../study/outcome";
import type { RateWords } from "../units/number";
import { Direction } from "../units/rate";
import { letterOf, type LetteredRig } from "./lettered-rig";
import { drillsDone } from "./study";

/** One rig of the list, and how it stands. */
export interface ListedRig {
  rigId: string;
  letter: string;
  name: string;
  observedMBps: number;
  words: string;
}

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
  /** Of a share its network, its drive at the far side and itself; null for a rig that is none. */
  stages: ShareStages | null;
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

/** What is asked of Locate; null for the first drill that was done, and for the rig that is to be looked at first. */
export interface AskedToLocate {
  drill: string | null;
  direction: Direction;
  rigId: string | null;
}

/**
 * What Locate shows of a study. Where nothing was measured in the direction that is asked for, the other one
 * is shown.
 */
export function locatedStudy(
  conclusions: Conclusions,
  { drill, direction, rigId }: AskedToLocate,
  rates: RateWords,
): LocatedStudy {
  const { rigs, measurements, counting, opinion } = conclusions;
  const ways = [direction, ...Direction.options.filter((way) => way !== direction)];
  const way = ways.find((one) => drillsDone(measurements, one).length > 0) ?? direction;
  const name = drill ?? drillsDone(measurements, way)[0]?.name ?? USUAL_DRILL.name;
  const does = new Set(counting);
  const seen = [...conclusions.knownIn(name, way).values()].filter((one) => does.has(one));
  const letters = new Map(rigs.map(({ id }, index) => [id, letterOf(index)]));
  const letter = (id: string) => letters.get(id) ?? null;
  const show = (located: Located) => showLocated(located, rates, letter);
  const outcomes = outcomesOf(measurements, rigs);
  const base = {
    drill: name,
    direction: way,
    simulated: seen.some(({ origin }) => origin === "simulated"),
    asDone: seen[0]?.drill ?? usualDrill(name, asWay(drillNamed(name), way)),
    deadEnds: deadEnds(outcomes, counting, opinion),
    boxes: boxesIn(seen, outcomes).map((grid) => withMove(grid, rigs)),
  };
  const stagesOf = (one: Observation) =>
    shareStages(one, counting, conclusions.basis.networks ?? []);
  if (!conclusions.areFew(name, way)) {
    // Each would take its time: one is looked at, and of the others it is said how they read.
    const list = seen.map((one) => readOf(one, way, letter)).toSorted((a, b) => a.order - b.order);
    const of = (id: string | undefined) => seen.find(({ rig }) => rig.id === id);
    const one = of(rigId ?? undefined) ?? of(list[0]!.rigId)!;
    const found = conclusions.locatedOf(one);
    const stages = stagesOf(one);
    return {
      ...base,
      rigs: list,
      shown: found && show(found),
      argument: [],
      notCounted: [],
      stages,
    };
  }
  const order = ({ asDesigned, settled }: ShownLocated) => (asDesigned ? 2 : settled ? 1 : 0);
  const found = conclusions
    .locatedIn(name, way)
    .map(show)
    .toSorted((a, b) => order(a) - order(b) || a.observedMBps - b.observedMBps);
  const shown = found.find((one) => one.rigId === rigId) ?? found[0] ?? null;
  const slow = seen.find(({ rig }) => rig.id === shown?.rigId);
  return {
    ...base,
    shown,
    argument: slow ? argumentShown(slow, conclusions, show, letter) : [],
    notCounted: slow ? notCounted(slow, measurements, rigs, seen) : [],
    stages: slow ? stagesOf(slow) : null,
    rigs: found.map(({ first, ...one }) => ({
      rigId: one.rigId,
      letter: one.letter,
      name: one.name,
      observedMBps: one.observedMBps,
      words: `${stateOf(one)}: ${first}`,
    })),
  };
}

/** A box with the parts of the rig that its next move makes. */
function withMove(grid: BoxGrid, rigs: readonly Rig[]): LocatedStudy["boxes"][number] {
  const like = rigs.find(({ id }) => id === grid.move?.likeRigId);
  const ids = like?.parts.map(({ id }) => id) ?? [];
  return {
    ...grid,
    moveParts: grid.move && like ? [...ids.slice(0, -1), grid.move.driveId] : null,
  };
}

/** How sure it is what limits a rig, in a word; of one that nothing holds up that it runs as designed. */
function stateOf({ asDesigned, places: [first] }: Omit<ShownLocated, "first">): string {
  const degree = first && !first.together ? degreeOf(first.probability) : "open";
  return asDesigned && degree !== "open" ? "as designed" : degree;
}

/** The argument about a rig with nothing left to work out. */
function argumentShown(
  slow: Observation,
  conclusions: Conclusions,
  show: (located: Located) => ShownLocated,
  letter: (id: string) => string | null,
): ShownStep[] {
  const { measurements, beside } = conclusions;
  const times = new Map(measurements.map(({ id, createdAt }) => [id, createdAt]));
  const timeOf = ({ measurementIds }: { measurementIds: readonly string[] }) =>
    measurementIds.map((id) => times.get(id) ?? "").toSorted()[0] ?? "";
  const drawn = (rig: Rig, located: Located): LetteredRig => {
    const observation =
      beside.find((one) => one.rig === rig && isAlike(one.drill, slow.drill)) ?? null;
    const direction = located.direction;
    const standing = rig === located.rig ? standingOf(located) : null;
    const finding = observation && findingOf(rig, direction, observation.repeats);
    return {
      letter: letter(rig.id) ?? "—",
      rig,
      observation,
      standing,
      machine: machineShown(
        conclusions.basis.checks ?? [],
        rig,
        slow.drill,
        observation?.repeats.median ?? null,
      ),
      finding: finding && heldAgainst(finding, rig, direction, observation.repeats, standing),
    };
  };
  return argumentOf(slow, beside, conclusions, timeOf).map(
    ({ rig, located, measurementIds, ...step }) => ({
      ...step,
      letter: letter(rig.id) ?? "—",
      name: rig.name,
      measurementId: measurementIds[0] ?? null,
      then: show(located),
      drawn: [slow.rig, ...(rig === slow.rig ? [] : [rig])].map((one) => drawn(one, located)),
    }),
  );
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
