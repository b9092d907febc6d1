import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import type { Observation } from "../../study/measurement";
import { outcomeWords, type Outcome } from "../../study/outcome";

/** One drive in one bay of a box. */
export interface BayCell {
  /** Null where it does not work there. */
  mbps: number | null;
  /** In which way it does not work there, in words. */
  fails: string | null;
  measurementId: string | null;
  /** Clearly less than the drive has carried anywhere else, or nothing at all. */
  low: boolean;
}

/** Drives by bays of one box, as far as they were measured, and what that points at. */
export interface BoxGrid {
  box: Part;
  bays: string[];
  drives: Part[];
  /** By drive, then by bay. */
  cells: (BayCell | null)[][];
  /** What it points at, in a sentence. */
  points: string;
  /** The move that would tell most; null where nothing is left to tell. */
  move: { text: string; likeRigId: string; driveId: string; bay: string } | null;
}

/** One drive in one bay, or elsewhere, with what it gave there. */
interface Filled extends Omit<BayCell, "low"> {
  rig: Rig;
}

/** Less than this share of what the drive, or another in its place, carried elsewhere is low. */
const LOW = 0.8;

/**
 * The boxes in which drives were measured in two bays and more.
 *
 * @param alike what was seen by one drill in one direction
 * @param outcomes what does not work
 */
export function boxesIn(
  alike: readonly Observation[],
  outcomes: readonly Outcome[] = [],
): BoxGrid[] {
  const sound = alike
    .filter(({ doubtful, rig }) => !doubtful && rig.beside.length === 0)
    .map(({ rig, repeats, measurementIds }): Filled => ({
      rig,
      mbps: repeats.median,
      fails: null,
      measurementId: measurementIds[0] ?? null,
    }));
  const failed = outcomes.map(({ rig, measurementId, ...outcome }): Filled => ({
    rig,
    mbps: null,
    fails: outcomeWords(outcome),
    measurementId,
  }));
  // What does not work now counts before what was measured there once.
  const all = [...failed, ...sound];
  const boxes = new Map<string, Filled[]>();
  for (const seen of all) {
    const box = seen.rig.parts.at(-2);
    if (!box || !seen.rig.bay) continue;
    boxes.set(box.id, [...(boxes.get(box.id) ?? []), seen]);
  }
  return [...boxes.values()].flatMap((inside) => {
    const bays = [...new Set(inside.map(({ rig }) => rig.bay))].toSorted(byNumber);
    return bays.length > 1 ? [gridOf(inside, bays, all)] : [];
  });
}

/** "Bay 2" before "Bay 10". */
const byNumber = (a: string, b: string) => a.localeCompare(b, "en", { numeric: true });

const driveOf = ({ rig }: Filled): Part => rig.parts.at(-1)!;

function gridOf(inside: readonly Filled[], bays: string[], all: readonly Filled[]): BoxGrid {
  const box = inside[0]!.rig.parts.at(-2)!;
  const drives = [
    ...new Map(inside.map((seen) => [driveOf(seen).id, driveOf(seen)])).values(),
  ].toSorted((a, b) => byNumber(a.name, b.name));
  const typical = median(inside.flatMap(({ mbps }) => mbps ?? []));
  const cells = drives.map((drive) =>
    bays.map((bay): BayCell | null => {
      const here = inside.filter((seen) => driveOf(seen).id === drive.id && seen.rig.bay === bay);
      const [seen] = here;
      if (!seen) return null;
      const elsewhere = all
        .filter((one) => driveOf(one).id === drive.id && !here.includes(one))
        .flatMap(({ mbps }) => mbps ?? []);
      const should = elsewhere.length > 0 ? Math.max(...elsewhere) : typical;
      return {
        mbps: seen.mbps,
        fails: seen.fails,
        measurementId: seen.measurementId,
        low: seen.mbps === null || seen.mbps < should * LOW,
      };
    }),
  );
  return { box, bays, drives, cells, ...pointed({ box, bays, drives, cells }, inside, all) };
}

const isDead = ({ mbps }: BayCell) => mbps === null;

/** How places are that are low: "is slow", "does not work", or both. */
const isLowWords = (cells: readonly BayCell[]): string =>
  cells.every(isDead)
    ? "does not work"
    : cells.some(isDead)
      ? "is slow or does not work"
      : "is slow";

/** What a grid points at: a bay, a drive, or the box itself. */
function pointed(
  { box, bays, drives, cells }: Pick<BoxGrid, "box" | "bays" | "drives" | "cells">,
  inside: readonly Filled[],
  all: readonly Filled[],
): Pick<BoxGrid, "points" | "move"> {
  const inBay = (b: number) => cells.flatMap((row) => row[b] ?? []);
  const ofDrive = (d: number) => cells[d]!.flatMap((cell) => cell ?? []);
  const every = cells.flat().flatMap((cell) => cell ?? []);
  const isLow = ({ low }: BayCell) => low;
  if (!every.some(isLow))
    return { points: `Every drive does in ${box.name} what it does elsewhere.`, move: null };
  if (every.length > 1 && every.every(isLow))
    return {
      points: every.every(isDead)
        ? `No drive works in any bay of ${box.name}: it is the box itself, its backplane or its uplink.`
        : `Every drive ${isLowWords(every)} in every bay of ${box.name} and was faster elsewhere: it is the box itself, its backplane or its uplink.`,
      move: null,
    };
  const bad = bays.findIndex((_, b) => inBay(b).length > 1 && inBay(b).every(isLow));
  if (bad >= 0)
    return {
      points: `Bay ${bays[bad]} of ${box.name} ${isLowWords(inBay(bad))} with every drive that was put there: it is the bay.`,
      move: null,
    };
  const slow = drives.findIndex((_, d) => ofDrive(d).length > 1 && ofDrive(d).every(isLow));
  if (slow >= 0)
    return {
      points: `${drives[slow]!.name} ${isLowWords(ofDrive(slow))} in every bay it was put into: it is the drive.`,
      move: null,
    };
  // One slow place, and nothing yet that parts its bay from its drive.
  const d = cells.findIndex((row) => row.some((cell) => cell?.low));
  const b = cells[d]!.findIndex((cell) => cell?.low);
  const drive = drives[d]!;
  const dead = isDead(cells[d]![b]!);
  const others = all.some(
    (one) =>
      driveOf(one).id === drive.id &&
      !(one.rig.parts.at(-2)?.id === box.id && one.rig.bay === bays[b]),
  );
  const other = drives.find((one, i) => i !== d && cells[i]![b] === null);
  const like = inside.find((one) => driveOf(one).id === drive.id && one.rig.bay === bays[b])!;
  return {
    points: others
      ? `${drive.name} ${dead ? `works elsewhere, and not in bay ${bays[b]} of ${box.name}` : `was faster elsewhere than in bay ${bays[b]} of ${box.name}`}: it is the bay, or the two do not go together.`
      : `${drive.name} in bay ${bays[b]} ${dead ? "does not work" : "is slow"}: it is the drive or the bay.`,
    move: other
      ? {
          text: `Put ${other.name} into bay ${bays[b]}: ${dead ? "dead" : "slow"} again, it is the bay; as well as elsewhere, it is ${others ? "the pair" : drive.name}.`,
          likeRigId: like.rig.id,
          driveId: other.id,
          bay: bays[b]!,
        }
      : null,
  };
}

function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}
