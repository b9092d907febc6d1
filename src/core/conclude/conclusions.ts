import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { DropIn } from "../judge/bursts";
import { isAlike } from "../drills/shape";
import { judgeAll, partsOfRigs, type Judged } from "../judge/judged";
import type { MachineCheck } from "../machine/check";
import { checksSeen } from "../machine/checks-seen";
import { networksSeen } from "../network/network-alone";
import type { NetworkFigures } from "../network/figures";
import { standingOf, type Standing } from "../locate/findings/standing";
import { USUAL_OPINION, type Opinion } from "../locate/hypotheses/opinion";
import { locate, type Located } from "../locate/locate";
import { TOGETHER } from "../locate/observations/pooled";
import { learntMinutes, withLearnt } from "../locate/steps/learnt-minutes";
import { weighing } from "../locate/weigh";
import type { BriefMeasurement, Observation } from "../study/measurement";
import { IN_MB, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { countedIn, knownIn, type Counted } from "./counting";
import { dropsFrom } from "./drops";

/** Everything that conclusions on a study are drawn from. */
export interface Basis {
  rigs: readonly Rig[];
  /** The latest first. */
  measurements: readonly BriefMeasurement[];
  /** By how much a part may stay below a claim, as a share of it. */
  tolerance: number;
  /** Whose claims are judged; without them the parts of the rigs. */
  parts?: readonly Part[];
  /** The parts at hand; without them those that are judged. */
  shelf?: readonly Part[];
  /** The tester's own priors and minutes. */
  opinion?: Opinion;
  /** Machines at hand that a drive can be connected to. */
  hosts?: readonly string[];
  /** Reads what slowed a long run down; without it that is read from the runs' own traces. */
  dropIn?: DropIn;
  /** What was seen in other studies, where that is to count too. */
  elsewhere?: readonly Observation[];
  /** What networks carried by themselves, the latest first. */
  networks?: readonly NetworkFigures[];
  /** What machines were shown to move in their own memory, of each the latest. */
  checks?: readonly MachineCheck[];
  /** Runs that count for nothing, by their ids. */
  without?: readonly string[];
  /** The only rig that verdicts are taken on, by its id. */
  on?: string | null;
}

/**
 * What follows from the runs of a study: per rig what holds it back, per claim what it is worth. Every
 * page, report and command that says either reads it here.
 */
export interface Conclusions extends Counted {
  /** What they are drawn from. */
  basis: Basis;
  /** The rigs of the study, and everything that was measured of them, the latest first. */
  rigs: readonly Rig[];
  measurements: readonly BriefMeasurement[];
  dropIn: DropIn;
  /** The tester's own, with the minutes that were learnt from the runs. */
  opinion: Opinion;
  shelf: readonly Part[];
  /** What counts, of other studies too where that was asked for. */
  beside: readonly Observation[];
  /** What each rig is known by in a drill and direction, by the rig's id. */
  knownIn(drill: string, direction: Direction): ReadonlyMap<string, Observation>;
  /** Whether what was seen in a drill and direction is little enough to be weighed together. */
  areFew(drill: string, direction: Direction): boolean;
  /**
   * What holds each rig back in a drill and direction, with the next steps; empty where they are more than
   * can be weighed together: those are located one by one.
   */
  locatedIn(drill: string, direction: Direction): readonly Located[];
  /** The same of everything that counts, of every drill and direction. */
  located(): readonly Located[];
  /** The same of one of the observations that count; null where it says nothing. */
  locatedOf(seen: Observation): Located | null;
  /** What all runs together say of an observation, without the next steps; null where they say nothing. */
  standingOf(seen: Observation): Standing | null;
  /** Every claim and what it is worth. @param rates how rates are written in its reasons */
  judged(rates?: RateWords): readonly Judged[];
  /** The claims of some parts alone, judged anew. */
  judge(parts: readonly Part[], rates?: RateWords): Judged[];
}

/** Draws conclusions from a study. Each is worked out when it is first asked for, and kept with the others. */
export function conclude(basis: Basis): Conclusions {
  const { rigs, measurements, tolerance, elsewhere = [], on = null } = basis;
  const { dropIn = dropsFrom(measurements) } = basis;
  const counted = countedIn(rigs, measurements, basis.without);
  const { seen, counting } = counted;
  const parts = basis.parts ?? partsOfRigs(rigs);
  const shelf = basis.shelf ?? parts;
  const opinion = withLearnt(basis.opinion ?? USUAL_OPINION, learntMinutes(measurements));
  const isReal = counting.some(({ origin }) => origin !== "simulated");
  // What was made up on the simulated bench is connected to no machine.
  const hosts = isReal ? basis.hosts : [];
  // The study's own come first: they stand for what was seen of the same set-up elsewhere.
  const beside = [
    ...counting,
    ...elsewhere.filter(({ origin }) => (origin !== "simulated") === isReal),
    ...networksSeen(counting, basis.networks ?? []),
    ...checksSeen(counting, basis.checks ?? []),
  ];
  const known = kept((drill: string, direction: Direction) => knownIn(seen, drill, direction));
  const does = new Set(counting);
  const asked = (drill: string, direction: Direction) =>
    [...known(drill, direction).values()].filter((one) => does.has(one));
  const areFew = (drill: string, direction: Direction) =>
    asked(drill, direction).length <= TOGETHER;
  const all = kept((drill: string, direction: Direction, next: boolean): readonly Located[] => {
    const some = new Set<unknown>(asked(drill, direction));
    return areFew(drill, direction)
      ? locate(beside, shelf, { of: (one) => some.has(one), next, opinion, hosts })
      : [];
  });
  const single = keptOf((one: Observation, next: boolean): Located | null => {
    const { name, direction } = one.drill;
    if (direction === "mixed") return null;
    const found = all(name, direction, next).find(
      ({ rig, drill }) => rig === one.rig && isAlike(drill, one.drill),
    );
    return (
      found ??
      locate(beside, shelf, { of: (other) => other === one, next, opinion, hosts })[0] ??
      null
    );
  });
  const standing = keptOf((one: Observation): Standing | null => {
    const located = does.has(one) ? single(one, false) : null;
    return located && standingOf(located);
  });
  const causesOf = weighing(beside, opinion);
  const judge = (some: readonly Part[], rates = IN_MB): Judged[] =>
    judgeAll(some, {
      rigs: on === null ? rigs : rigs.filter(({ id }) => id === on),
      observations: counting,
      tolerance,
      shelf,
      opinion,
      causesOf,
      rates,
      dropIn,
    });
  const judged = new Map<string, Judged[]>();
  return {
    ...counted,
    basis,
    rigs,
    measurements,
    dropIn,
    opinion,
    shelf,
    beside,
    knownIn: known,
    areFew,
    locatedIn: (drill, direction) => all(drill, direction, true),
    located: kept(() =>
      locate(beside, shelf, { of: (one) => does.has(one as never), opinion, hosts }),
    ),
    locatedOf: (one) => (does.has(one) ? single(one, true) : null),
    standingOf: standing,
    judge,
    judged(rates = IN_MB) {
      const found = judged.get(rates.unit) ?? judge(parts, rates);
      judged.set(rates.unit, found);
      return found;
    },
  };
}

/** A function of plain values that works out each answer once. */
function kept<A extends readonly unknown[], T>(work: (...of: A) => T): (...of: A) => T {
  const found = new Map<string, T>();
  return (...of) => {
    const key = JSON.stringify(of);
    if (!found.has(key)) found.set(key, work(...of));
    return found.get(key)!;
  };
}

/** The same for a function of what was seen, and of plain values. */
function keptOf<A extends readonly unknown[], T>(
  work: (one: Observation, ...of: A) => T,
): (one: Observation, ...of: A) => T {
  const found = new Map<Observation, (...of: A) => T>();
  return (one, ...of) => {
    const own = found.get(one) ?? kept((...rest: A) => work(one, ...rest));
    found.set(one, own);
    return own(...of);
  };
}
