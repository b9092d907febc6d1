import { mean } from "simple-statistics";
import type { PartKind } from "../chain/part";
import type { Rig } from "../chain/rig";
import { counted } from "../units/counted";
import { AXES, type Axis } from "./axes";
import type { Cell } from "./cell";
import type { Row } from "./comparison";
import { isBeyond } from "./practice";

/** One place along an edge. */
export interface MatrixHead {
  key: string;
  name: string;
  /** What it gains over the slowest place of its edge, in the rigs that differ in nothing else here; null where that was not seen. */
  gain: number | null;
  /** Whether the others are held against it. */
  slowest: boolean;
  /** Ceilings of its rigs, MB/s; null where a link does not come up. */
  ceiling: { low: number; high: number } | null;
}

/** The fastest rig of a place. */
export interface MatrixCell {
  rigId: string;
  letter: string;
  /** Median: MB/s, or requests a second where those are counted. */
  median: number;
  efficiency: number | null;
  doubtful: boolean;
  /** Further rigs that stand at the same place, by letter. */
  others: readonly string[];
}

/** The rigs of an answer laid out by two of their parts. */
export interface Matrix {
  down: Axis;
  across: Axis;
  /** Whether requests are counted, not their bytes. */
  counted: boolean;
  heads: { down: MatrixHead[]; across: MatrixHead[] };
  /** By rows; null where nothing was measured. */
  cells: (MatrixCell | null)[][];
}

/** Axes along which some rigs differ, those with most places first; of as many the order of `AXES`. */
export function axesOf(rigs: readonly Rig[]): Axis[] {
  const places = (axis: Axis) => new Set(rigs.map((rig) => placeOn(axis, rig).key)).size;
  return (Object.keys(AXES) as Axis[])
    .filter((axis) => places(axis) > 1)
    .toSorted((a, b) => places(b) - places(a));
}

/**
 * Which parts rigs are laid out by: drives down where there are several, and across what differs most.
 *
 * @param asked what the tester chose; null where that is left open
 */
export function chosenAxes(
  rigs: readonly Rig[],
  asked: { down: Axis | null; across: Axis | null },
): { down: Axis; across: Axis } {
  const found = axesOf(rigs);
  const free = (not: Axis | null) => found.filter((axis) => axis !== not);
  const down =
    asked.down ??
    (asked.across !== "drive" && found.includes("drive")
      ? "drive"
      : (free(asked.across ?? found[0] ?? null)[0] ?? "drive"));
  const other = asked.across === down ? null : asked.across;
  const across = other ?? free(down)[0] ?? (down === "enclosure" ? "cable" : "enclosure");
  return { down, across };
}

/** Where a rig stands along an edge. */
function placeOn(axis: Axis, rig: Rig): { key: string; name: string } {
  if (axis === "drives") {
    const count = 1 + rig.beside.length;
    return { key: String(count).padStart(3, "0"), name: counted(count, "drive") };
  }
  if (axis === "file system") {
    const name = rig.fileSystem || "none said";
    return { key: name, name };
  }
  const own = rig.parts.filter(({ kind }) => kind === (axis satisfies PartKind));
  if (own.length === 0) return { key: "", name: "none" };
  return {
    key: own.map(({ id }) => id).join(),
    name: own.map(({ name }) => name).join(" + "),
  };
}

/**
 * Lays out the rigs of an answer.
 *
 * @param at which column of the answer
 * @param isCounted whether requests are counted, not their bytes
 */
export function matrixOf(
  rows: readonly Row[],
  at: number,
  { down, across }: { down: Axis; across: Axis },
  isCounted: boolean,
): Matrix {
  const [ups, lefts] = [placesOf(rows, across), placesOf(rows, down)];
  const figure = (cell: Cell) => (isCounted ? cell.iops : cell.repeats.median);
  const standing = lefts.map((left) =>
    ups.map((up) =>
      rows
        .flatMap(({ rig, letter, cells }) => {
          const cell = cells[at];
          const isHere = placeOn(down, rig).key === left.key && placeOn(across, rig).key === up.key;
          return cell && isHere ? [{ rig, letter, cell }] : [];
        })
        // What cannot be true stands behind what can.
        .toSorted(
          (a, b) =>
            Number(isBeyond(a.cell)) - Number(isBeyond(b.cell)) || figure(b.cell) - figure(a.cell),
        ),
    ),
  );
  const cells = standing.map((row) =>
    row.map(([first, ...more]): MatrixCell | null =>
      first
        ? {
            rigId: first.rig.id,
            letter: first.letter,
            median: figure(first.cell),
            efficiency: isCounted ? null : first.cell.efficiency,
            doubtful: isBeyond(first.cell),
            others: more.map(({ letter }) => letter),
          }
        : null,
    ),
  );
  const lines = { down: cells, across: ups.map((_, i) => cells.map((row) => row[i]!)) };
  const ceilingsOf = (all: (typeof standing)[number]) =>
    all.flatMap((here) => here.flatMap(({ cell }) => cell.ceiling ?? []));
  return {
    down,
    across,
    counted: isCounted,
    cells,
    heads: {
      down: headsOf(
        lefts,
        lines.down,
        standing.map((row) => ceilingsOf(row)),
      ),
      across: headsOf(
        ups,
        lines.across,
        ups.map((_, i) => ceilingsOf(standing.map((row) => row[i]!))),
      ),
    },
  };
}

function placesOf(rows: readonly Row[], axis: Axis): { key: string; name: string }[] {
  const found = new Map(rows.map(({ rig }) => [placeOn(axis, rig).key, placeOn(axis, rig)]));
  const all = [...found.values()];
  return axis === "drives" ? all.toSorted((a, b) => (a.key < b.key ? -1 : 1)) : all;
}

/** The places of an edge, each with what it gains over the slowest, by the rigs that stand beside each other. */
function headsOf(
  places: readonly { key: string; name: string }[],
  lines: readonly (readonly (MatrixCell | null)[])[],
  ceilings: readonly (readonly number[])[],
): MatrixHead[] {
  const gains = (line: (typeof lines)[number], other: (typeof lines)[number]): number | null => {
    const ratios = line.flatMap((cell, i) => {
      const beside = other[i];
      return cell && beside && !cell.doubtful && !beside.doubtful && beside.median > 0
        ? [Math.log(cell.median / beside.median)]
        : [];
    });
    return ratios.length > 0 ? Math.exp(mean(ratios)) - 1 : null;
  };
  // The slowest is the one that none was seen to be slower than, beside most others.
  const losses = lines.map((line) => lines.filter((other) => (gains(other, line) ?? -1) >= 0));
  const most = Math.max(0, ...losses.map(({ length }) => length));
  const slowest = losses.findIndex(({ length }) => length === most);
  return places.map(({ key, name }, i): MatrixHead => {
    const all = ceilings[i]!;
    return {
      key,
      name,
      slowest: i === slowest && lines.length > 1,
      gain: i === slowest || slowest < 0 ? null : gains(lines[i]!, lines[slowest]!),
      ceiling: all.length > 0 ? { low: Math.min(...all), high: Math.max(...all) } : null,
    };
  });
}
