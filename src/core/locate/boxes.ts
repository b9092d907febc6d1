import type { Part } from "../chain/part";
import type { Observation } from "../study/measurement";

/** One drive in one bay of a box. */
export interface BayCell {
  mbps: number;
  measurementId: string | null;
  /** Clearly less than the drive has carried anywhere else. */
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

/** Less than this share of what the drive, or another in its place, carried elsewhere is low. */
const LOW = 0.8;

/**
 * The boxes in which drives were measured in two bays and more.
 *
 * @param alike what was seen by one drill in one direction
 */
export function boxesIn(alike: readonly Observation[]): BoxGrid[] {
  const sound = alike.filter(({ doubtful, rig }) => !doubtful && rig.beside.length === 0);
  const boxes = new Map<string, Observation[]>();
  for (const seen of sound) {
    const box = seen.rig.parts.at(-2);
    if (!box || !seen.rig.bay) continue;
    boxes.set(box.id, [...(boxes.get(box.id) ?? []), seen]);
  }
  return [...boxes.values()].flatMap((inside) => {
    const bays = [...new Set(inside.map(({ rig }) => rig.bay))].toSorted(byNumber);
    return bays.length > 1 ? [gridOf(inside, bays, sound)] : [];
  });
}

/** "Bay 2" before "Bay 10". */
const byNumber = (a: string, b: string) => a.localeCompare(b, "en", { numeric: true });

const driveOf = ({ rig }: Observation): Part => rig.parts.at(-1)!;

function gridOf(
  inside: readonly Observation[],
  bays: string[],
  all: readonly Observation[],
): BoxGrid {
  const box = inside[0]!.rig.parts.at(-2)!;
  const drives = [
    ...new Map(inside.map((seen) => [driveOf(seen).id, driveOf(seen)])).values(),
  ].toSorted((a, b) => byNumber(a.name, b.name));
  const typical = median(inside.map(({ repeats }) => repeats.median));
  const cells = drives.map((drive) =>
    bays.map((bay): BayCell | null => {
      const here = inside.filter((seen) => driveOf(seen).id === drive.id && seen.rig.bay === bay);
      const [seen] = here;
      if (!seen) return null;
      const elsewhere = all
        .filter((one) => driveOf(one).id === drive.id && !here.includes(one))
        .map(({ repeats }) => repeats.median);
      const should = elsewhere.length > 0 ? Math.max(...elsewhere) : typical;
      return {
        mbps: seen.repeats.median,
        measurementId: seen.measurementIds[0] ?? null,
        low: seen.repeats.median < should * LOW,
      };
    }),
  );
  return { box, bays, drives, cells, ...pointed({ box, bays, drives, cells }, inside, all) };
}

/** What a grid points at: a bay, a drive, or the box itself. */
function pointed(
  { box, bays, drives, cells }: Pick<BoxGrid, "box" | "bays" | "drives" | "cells">,
  inside: readonly Observation[],
  all: readonly Observation[],
): Pick<BoxGrid, "points" | "move"> {
  const inBay = (b: number) => cells.flatMap((row) => row[b] ?? []);
  const ofDrive = (d: number) => cells[d]!.flatMap((cell) => cell ?? []);
  const every = cells.flat().flatMap((cell) => cell ?? []);
  const isLow = ({ low }: BayCell) => low;
  if (!every.some(isLow))
    return { points: `Every drive does in ${box.name} what it does elsewhere.`, move: null };
  if (every.length > 1 && every.every(isLow))
    return {
      points: `Every drive is slow in every bay of ${box.name} and was faster elsewhere: it is the box itself, its backplane or its uplink.`,
      move: null,
    };
  const bad = bays.findIndex((_, b) => inBay(b).length > 1 && inBay(b).every(isLow));
  if (bad >= 0)
    return {
      points: `Bay ${bays[bad]} of ${box.name} is slow with every drive that was put there: it is the bay.`,
      move: null,
    };
  const slow = drives.findIndex((_, d) => ofDrive(d).length > 1 && ofDrive(d).every(isLow));
  if (slow >= 0)
    return {
      points: `${drives[slow]!.name} is slow in every bay it was put into: it is the drive.`,
      move: null,
    };
  // One slow place, and nothing yet that parts its bay from its drive.
  const d = cells.findIndex((row) => row.some((cell) => cell?.low));
  const b = cells[d]!.findIndex((cell) => cell?.low);
  const drive = drives[d]!;
  const others = all.some(
    (one) =>
      driveOf(one).id === drive.id &&
      !(one.rig.parts.at(-2)?.id === box.id && one.rig.bay === bays[b]),
  );
  const other = drives.find((one, i) => i !== d && cells[i]![b] === null);
  const like = inside.find((one) => driveOf(one).id === drive.id && one.rig.bay === bays[b])!;
  return {
    points: others
      ? `${drive.name} was faster elsewhere than in bay ${bays[b]} of ${box.name}: it is the bay, or the two do not go together.`
      : `${drive.name} in bay ${bays[b]} is slow: it is the drive or the bay.`,
    move: other
      ? {
          text: `Put ${other.name} into bay ${bays[b]}: slow again, it is the bay; as fast as elsewhere, it is ${others ? "the pair" : drive.name}.`,
          ...{ likeRigId: like.rig.id, driveId: other.id, bay: bays[b]! },
        }
      : null,
  };
}

function median(values: readonly number[]): number {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}
