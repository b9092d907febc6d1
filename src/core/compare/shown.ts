import { drillNamed, drillShowing } from "../drills/catalogue";
import type { Shows } from "../drills/kind";
import { letterOf } from "../answer/lettered-rig";
import { checkDemand, type DemandCheck } from "../demand/check";
import type { Reference } from "../study/reference";
import type { Demand } from "../study/demand";
import { shownBy } from "../demand/shown";
import type { Fit } from "../run/result";
import { fitCeiling, type CeilingFit } from "../stats/ceiling-fit";
import type { Origin } from "../study/measurement";
import type { Direction } from "../units/rate";
import type { Cell } from "./cell";
import { cellOf } from "./cell";
import type { Column } from "./column";
import type { JobShown } from "./jobs";
import type { CacheShown } from "./caches";
import type { SuiteShown } from "./suites";
import type { WorkShown } from "./works";
import type { Comparison, Evidence, Row } from "./comparison";
import { chosenAxes, matrixOf, type Matrix } from "./matrix";
import { costOf, isBeyond, pathCost, timeFor, upgrades, type Cost, type Moving } from "./practice";
import type { Question } from "./question";
import type { Weakness } from "./weak";

/** A run behind a cell. */
export interface CellRun {
  id: string;
  mbps: number;
  leftOut: string | null;
}

export type ShownCell = Cell & { runs: CellRun[] };

/** A rig as an answer shows it: without its parts. */
export interface ShownRow {
  letter: string;
  rigId: string;
  name: string;
  fileSystem: string;
  /** Its parts from host to drive, by name. */
  path: string[];
  drive: { id: string; name: string } | null;
  /** Its study, where rigs of several stand side by side; null else. */
  study: string | null;
  cells: (ShownCell | null)[];
  /** Seconds that its path adds to each request, in the first column with one request at a time. */
  pathCost: number | null;
  cost: Cost | null;
  /** Price for each TB of its drive, and for each 100 MB/s of the first column. */
  perTB: number | null;
  per100: number | null;
  /** Time to move what the tester has, each way. */
  moving: Record<Direction, Moving | null>;
  demands: { name: string; checks: DemandCheck[] }[];
}

/** A drive by itself against the same drive in an enclosure. */
export interface NativeShown {
  enclosure: string;
  points: {
    driveId: string;
    drive: string;
    letter: string;
    native: number;
    observed: number;
    stated: boolean;
  }[];
  fit: CeilingFit | null;
}

/** A ladder as a curve, with what was fitted to it. */
export interface LadderShown {
  letter: string;
  name: string;
  by: "block" | "depth";
  points: { at: number; mbps: number; iops: number }[];
  fit: Fit | null;
}

/** Everything that an answer's page shows. */
export interface ShownComparison {
  columns: Column[];
  rows: ShownRow[];
  /** What other programs did, by the tester's names for it. */
  jobs: JobShown[];
  works: WorkShown[];
  /** Drives that were filled at several levels, or rested between fills. */
  caches: CacheShown[];
  suites: SuiteShown[];
  /** Rates that no rig gave, to be seen beside the rigs. */
  references: readonly Reference[];
  /** Further rows, that come when all are asked for. */
  hidden: number;
  /** What all cells come from, where that is one and the same. */
  origin: Origin | null;
  baseline: { letter: string; name: string; rigId: string } | null;
  weak: Weakness[];
  drives: { id: string; name: string }[];
  drills: { name: string; title: string }[];
  rigs: { id: string; letter: string; name: string }[];
  native: NativeShown[];
  ladders: LadderShown[];
  /** The rigs by two of their parts, one layout for each column, where that is the view. */
  matrices: Matrix[];
  upgrades: {
    from: string;
    to: string;
    what: string;
    gain: number;
    share: number;
    extra: { amount: number; currency: string } | null;
  }[];
}

/** The pooled spread of repeats where there are any; else what a quiet bench has. */
const QUIET = 0.02;

/** What an answer is completed from, beside the comparison itself. */
export interface Around extends Pick<
  ShownComparison,
  "ladders" | "jobs" | "works" | "caches" | "suites" | "references"
> {
  demands: readonly Demand[];
  /** The runs of a measurement. */
  runsOf: (measurementId: string) => readonly CellRun[];
}

/** Completes an answer with what it means in practice. */
export function shown(
  comparison: Comparison,
  question: Question,
  evidence: Evidence,
  around: Around,
): ShownComparison {
  const { ladders, jobs, works, caches, suites, references } = around;
  const { columns, rows, baseline, hidden } = comparison;
  const origins = new Set(rows.flatMap(({ cells }) => cells.flatMap((cell) => cell?.origin ?? [])));
  const letters = new Map(evidence.rigs.map((rig, i) => [rig.id, letterOf(i)]));
  const base = rows.find(({ rig }) => rig.id === baseline?.id);
  return {
    columns,
    hidden,
    jobs,
    works,
    caches,
    suites,
    references,
    origin: origins.size === 1 ? [...origins][0]! : null,
    rows: rows.map((row) => rowShown(row, base ?? null, columns, { question, evidence, around })),
    baseline: baseline && {
      letter: letters.get(baseline.id) ?? "",
      name: baseline.name,
      rigId: baseline.id,
    },
    weak: comparison.weak,
    drives: comparison.drives,
    drills: comparison.drills,
    rigs: evidence.rigs.map(({ id, name }) => ({ id, name, letter: letters.get(id)! })),
    native: question.view === "native" ? nativeShown(comparison) : [],
    ladders,
    matrices: question.view === "matrix" ? matricesOf(comparison, question) : [],
    upgrades: upgrades(comparison).map(({ from, to, ...rest }) => ({
      ...rest,
      from: from.letter,
      to: to.letter,
    })),
  };
}

function matricesOf({ rows, columns }: Comparison, question: Question): Matrix[] {
  const axes = chosenAxes(
    rows.map(({ rig }) => rig),
    question,
  );
  return columns.map(({ drill }, at) =>
    matrixOf(rows, at, axes, drillNamed(drill).shows.includes("iops")),
  );
}

function rowShown(
  row: Row,
  base: Row | null,
  columns: readonly Column[],
  {
    question: { gb, other },
    evidence,
    around: { demands, runsOf },
  }: { question: Question; evidence: Evidence; around: Around },
): ShownRow {
  const { rig, letter, cells } = row;
  const drive = rig.parts.at(-1) ?? null;
  const first = cells.find((cell) => cell !== null) ?? null;
  const shallow = columns.findIndex(({ depth }) => depth === 1);
  const cost = costOf(rig);
  const seen = evidence.of.get(rig.id) ?? [];
  const of = (shows: Shows, direction: Direction) => {
    const { name } = drillShowing(shows);
    const found = seen.find((one) => one.drill.name === name && one.drill.direction === direction);
    return found ? cellOf(found, rig) : null;
  };
  const moving = (direction: Direction) =>
    timeFor(gb * 1e9, of("peak", direction), of("sustained", direction), other);
  return {
    letter,
    rigId: rig.id,
    name: rig.name,
    fileSystem: rig.fileSystem,
    path: rig.parts.map(({ name }) => name),
    drive: drive && { id: drive.id, name: drive.name },
    study: evidence.studies?.get(rig.id) ?? null,
    cells: cells.map(
      (cell) => cell && { ...cell, runs: cell.measurementIds.flatMap((id) => [...runsOf(id)]) },
    ),
    pathCost:
      shallow >= 0 && cells[shallow]
        ? pathCost(cells[shallow], base?.cells[shallow] ?? null, columns[shallow]!.depth)
        : null,
    cost,
    perTB: cost && drive?.capacityBytes ? cost.amount / (drive.capacityBytes / 1e12) : null,
    per100: cost && first && !isBeyond(first) ? cost.amount / (first.repeats.median / 100) : null,
    moving: { read: moving("read"), write: moving("write") },
    demands: demands.map((demand) => ({
      name: demand.name,
      checks: checkDemand(rig, demand, (direction) => shownBy(seen, rig, direction)),
    })),
  };
}

/** Kinds of parts that may hold a drive back; without any of them it stands by itself. */
const BETWEEN = new Set(["enclosure", "adapter", "hub", "dock", "network-box"]);

/** What drives do by themselves against what they do in each enclosure, in the first column. */
function nativeShown({ rows }: Comparison): NativeShown[] {
  const seen = rows.flatMap(({ rig, letter, cells }) => {
    const cell = cells.find((one) => one !== null);
    const drive = rig.parts.at(-1);
    return cell && drive ? [{ rig, letter, cell, drive }] : [];
  });
  const native = new Map<string, { mbps: number; stated: boolean }>();
  for (const { rig, cell, drive } of seen) {
    if (!rig.parts.some(({ kind }) => BETWEEN.has(kind)))
      native.set(drive.id, { mbps: cell.repeats.median, stated: false });
  }
  for (const { cell, drive } of seen) {
    const own = drive.limits[cell.direction];
    if (!native.has(drive.id) && own) native.set(drive.id, { mbps: own, stated: true });
  }
  const boxes = new Map<string, NativeShown>();
  const spreads: number[] = [];
  // What else stands in a rig may hold it back: of several with one drive in one box the fastest counts.
  const fastest = seen.toSorted((a, b) => b.cell.repeats.median - a.cell.repeats.median);
  for (const { rig, letter, cell, drive } of fastest) {
    const box = rig.parts.find(({ kind }) => kind === "enclosure");
    const by = native.get(drive.id);
    if (!box || !by) continue;
    const known = boxes.get(box.id) ?? { enclosure: box.name, points: [], fit: null };
    boxes.set(box.id, known);
    if (known.points.some((point) => point.driveId === drive.id)) continue;
    const { mbps, stated } = by;
    known.points.push({
      driveId: drive.id,
      drive: drive.name,
      letter,
      stated,
      native: mbps,
      observed: cell.repeats.median,
    });
    if (cell.repeats.cv !== null) spreads.push(cell.repeats.cv);
  }
  const noise = Math.max(
    QUIET,
    spreads.reduce((sum, cv) => sum + cv, 0) / Math.max(1, spreads.length),
  );
  return [...boxes.values()].map((box) => ({ ...box, fit: fitCeiling(box.points, noise) }));
}
