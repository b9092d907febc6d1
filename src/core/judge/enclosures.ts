import { kindOf } from "../drills/drill";
import { rateClaims } from "../chain/claim";
import { runsOver } from "../chain/over";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { gatherEvidence } from "../locate/observations/evidence";
import { readRate } from "../locate/observations/against-ledger";
import { fitCeiling, type CeilingFit } from "../stats/ceiling-fit";
import type { Repeats } from "../stats/repeats";
import { byRigOf, observe, type Observation } from "../study/measurement";
import { Direction } from "../units/rate";
import type { DropIn } from "./bursts";
import { notShown } from "./challenge";

/** What an enclosure lets through, found from several drives in it. */
export interface OwnCeiling {
  part: Part;
  direction: Direction;
  fit: CeilingFit;
  /** Each drive: what it does elsewhere, and what it did in the enclosure, MB/s. */
  points: { drive: Part; native: number; observed: number; measurementIds: readonly string[] }[];
  /** What else was in the way of drives that it slowed down, and was not shown to carry more: names. */
  unshown: string[];
}

/** A quiet bench's spread, where no repeats say otherwise. */
const QUIET = 0.02;

/** What was seen by the drill that shows a peak. */
const hauls = (all: readonly Observation[]) =>
  all.filter(({ drill, doubtful }) => {
    const { shows, targets } = kindOf(drill);
    return shows.includes("peak") && targets === "one" && !doubtful;
  });

/**
 * The own ceiling of each enclosure in which two drives and more were measured that have shown by runs
 * elsewhere what they can do (docs/model.md, 3). What the ledger puts down to something else counts for none.
 *
 * @param observations of a study, the latest first
 */
export function ownCeilings(
  rigs: readonly Rig[],
  observations: readonly Observation[],
): OwnCeiling[] {
  const seen = hauls(observations);
  return enclosuresIn(rigs).flatMap((part) =>
    Direction.options.flatMap((direction): OwnCeiling[] => {
      const alike = seen.filter(({ drill }) => drill.direction === direction);
      const inside = best(
        alike.filter(
          ({ rig, repeats }) =>
            holds(rig, part) && heldByOthers(part, rig, direction, repeats).length === 0,
        ),
      );
      const elsewhere = best(alike.filter(({ rig }) => !holds(rig, part)));
      const points = [...inside].flatMap(([id, here]) => {
        const there = elsewhere.get(id);
        if (!there) return [];
        const rates = { native: there.repeats.median, observed: here.repeats.median };
        const drive = here.rig.parts.at(-1)!;
        return [{ drive, ...rates, measurementIds: here.measurementIds }];
      });
      const cvs = [...inside.values()].flatMap(({ repeats }) => repeats.cv ?? []);
      const noise = cvs.length > 0 ? Math.max(...cvs) : QUIET;
      const fit = fitCeiling(points, noise);
      if (!fit) return [];
      const evidence = gatherEvidence(alike);
      const slowed = points.filter(({ native, observed }) => observed < native * (1 - noise));
      const unshown = slowed.flatMap(({ drive, observed }) =>
        notShown(inside.get(drive.id)!.rig, [part, drive], direction, observed, evidence),
      );
      return [
        { part, direction, fit, points, unshown: [...new Set(unshown.map(({ name }) => name))] },
      ];
    }),
  );
}

/** The parts that hold a rig at a rate by its own ledger; none where an enclosure or the drive is among them. */
function heldByOthers(part: Part, rig: Rig, direction: Direction, repeats: Repeats): Part[] {
  const reading = readRate(rig, direction, repeats);
  if (reading?.kind !== "at bottleneck") return [];
  const { culprits } = reading.bottleneck;
  const isOwn = culprits.some(({ id }) => id === part.id || id === rig.parts.at(-1)!.id);
  return isOwn ? [] : culprits;
}

/** By drive, the fastest that was seen of it. */
function best(seen: readonly Observation[]): Map<string, Observation> {
  const found = new Map<string, Observation>();
  for (const one of seen) {
    if (one.rig.beside.length > 0) continue;
    const id = one.rig.parts.at(-1)?.id;
    const known = id === undefined ? undefined : found.get(id);
    if (id !== undefined && (!known || known.repeats.median < one.repeats.median))
      found.set(id, one);
  }
  return found;
}

const holds = ({ parts }: Rig, { id }: Part) => parts.some((part) => part.id === id);

function enclosuresIn(rigs: readonly Rig[]): Part[] {
  const all = rigs.flatMap(({ parts }) => parts.filter(({ kind }) => kind === "enclosure"));
  return [...new Map(all.map((part) => [part.id, part])).values()];
}

/** One enclosure among others for the same drive. */
export interface Alongside {
  part: Part;
  /** The rigs that its figures come from, the one with most of them first. */
  rigs: Rig[];
  /** The highest peak that it claims, MB/s. */
  claim: Partial<Record<Direction, number>>;
  burst: Partial<Record<Direction, Shown>>;
  sustained: Partial<Record<Direction, Shown>>;
  /** The hottest that a long run was, °C; null where nothing told. */
  celsius: number | null;
  /** Names of other parts whose own ledger holds the rig there: it says little of the enclosure then. */
  heldBy: string[];
  /** Price for each 100 MB/s that it delivered, in the slower direction; null without a price, or where others hold it. */
  per100: { amount: number; currency: string } | null;
}

interface Shown {
  mbps: number;
  measurementIds: readonly string[];
}

/** A drive with all enclosures it was measured in. */
export interface SideBySide {
  drive: Part;
  enclosures: Alongside[];
}

/**
 * The enclosures of each drive that was put into two and more, each in the rig in which it did best; what
 * was not measured there comes from its other rigs.
 *
 * @param dropIn reads what a long run's trace says of heat
 */
export function sideBySide(
  rigs: readonly Rig[],
  observations: readonly Observation[],
  dropIn: DropIn,
): SideBySide[] {
  const drives = new Map(
    rigs.flatMap(({ parts, beside }) => {
      const drive = beside.length === 0 ? parts.at(-1) : undefined;
      return drive ? [[drive.id, drive] as const] : [];
    }),
  );
  const byRig = byRigOf(observations);
  return [...drives.values()].flatMap((drive) => {
    const own = rigs.filter((rig) => rig.beside.length === 0 && rig.parts.at(-1)?.id === drive.id);
    const enclosures = enclosuresIn(own).flatMap((part): Alongside[] => {
      const all = own
        .filter((rig) => holds(rig, part))
        .map((rig) => inRig(part, rig, byRig.get(rig.id) ?? []))
        .filter(({ burst }) => Object.keys(burst).length > 0)
        .toSorted((a, b) => waysOf(b) - waysOf(a) || least(b) - least(a));
      return all.length > 0 ? [joined(part, all)] : [];
    });
    if (enclosures.length < 2) return [];
    // Traces are read of what is shown alone.
    return [
      { drive, enclosures: enclosures.map((one) => ({ ...one, celsius: heatOf(one, dropIn) })) },
    ];
  });
}

/** The slower of what was seen in both directions, MB/s. */
const least = ({ burst }: Pick<Alongside, "burst">) =>
  Math.min(...Object.values(burst).map(({ mbps }) => mbps));

/** The hottest that its long runs were, °C; null where nothing told. */
function heatOf({ sustained }: Pick<Alongside, "sustained">, dropIn: DropIn): number | null {
  const hot = Object.values(sustained).flatMap(
    ({ measurementIds }) => dropIn(measurementIds)?.hottest ?? [],
  );
  return hot.length > 0 ? Math.max(...hot) : null;
}

const waysOf = ({ burst }: Pick<Alongside, "burst">) => Object.keys(burst).length;

/** What one rig shows of an enclosure. */
type InRig = Pick<Alongside, "burst" | "sustained"> & { rig: Rig; heldBy: string[] };

function inRig(part: Part, rig: Rig, observations: readonly Observation[]): InRig {
  const burst: Alongside["burst"] = {};
  const sustained: Alongside["sustained"] = {};
  const heldBy = new Set<string>();
  const long = observations.filter(({ drill }) => kindOf(drill).shows.includes("sustained"));
  for (const direction of Direction.options) {
    const short = observe(hauls(observations), rig, direction);
    if (short) {
      const { repeats, measurementIds } = short;
      burst[direction] = { mbps: repeats.median, measurementIds };
      for (const { name } of heldByOthers(part, rig, direction, repeats)) heldBy.add(name);
    }
    const fill = observe(long, rig, direction);
    const rates = fill?.results.flatMap(({ first }) => first?.sustainedMBps ?? []) ?? [];
    if (fill && rates.length > 0) {
      const mbps = rates.reduce((sum, rate) => sum + rate, 0) / rates.length;
      sustained[direction] = { mbps, measurementIds: fill.measurementIds };
    }
  }
  return { rig, burst, sustained, heldBy: [...heldBy] };
}

/** What several rigs show of one enclosure together. @param all the best of them first */
function joined(part: Part, all: readonly InRig[]): Alongside {
  const burst: Alongside["burst"] = {};
  const sustained: Alongside["sustained"] = {};
  const claim: Alongside["claim"] = {};
  const used = new Set<InRig>();
  for (const direction of Direction.options) {
    for (const [of, to] of [
      ["burst", burst],
      ["sustained", sustained],
    ] as const) {
      const from = all.find((one) => one[of][direction]);
      if (!from) continue;
      to[direction] = from[of][direction]!;
      used.add(from);
    }
    const claims = rateClaims(part.claims, direction)
      .filter((claim) => all.some(({ rig }) => runsOver(claim, part, rig)))
      .map(({ mbps }) => mbps);
    if (claims.length > 0) claim[direction] = Math.max(...claims);
  }
  const slowest = least({ burst });
  const heldBy = new Set([...used].flatMap((one) => one.heldBy));
  return {
    part,
    rigs: all.filter((one) => used.has(one)).map(({ rig }) => rig),
    claim,
    burst,
    sustained,
    celsius: null,
    heldBy: [...heldBy],
    per100:
      part.price && slowest < Infinity && heldBy.size === 0
        ? { amount: part.price.amount / (slowest / 100), currency: part.price.currency }
        : null,
  };
}
