import Papa from "papaparse";
import { PART_KIND_NAMES, type PartKind } from "../chain/part";
import { DRILLS } from "../drills/catalogue";
import type { DrillDirection } from "../drills/kind";
import { decimalSignOf, readFigure, readUnit, type Figure, type Unit } from "./figure";

/**
 * A grid as it is copied out of a spreadsheet: rows are rigs, columns are drills. Columns headed by a
 * kind of part name the parts of each row's rig.
 */

/** A cell or a head that makes no sense, as people count: the first line is line 1. */
export interface GridProblem {
  line: number;
  column: number;
  text: string;
  problem: string;
}

export interface GridColumn {
  /** As people count. */
  column: number;
  head: string;
  drill: string;
  direction: DrillDirection;
  unit: Unit;
}

export interface GridRow {
  line: number;
  /** What the rig is called; empty where only its parts are named. */
  name: string;
  /** Parts from host to drive, as named. */
  parts: { kind: PartKind; name: string }[];
  /** What stands in the columns of drills; an empty cell is left out. */
  cells: { column: GridColumn; figure: Figure }[];
}

export interface Grid {
  columns: GridColumn[];
  rows: GridRow[];
  problems: GridProblem[];
}

const MOST_ROWS = 1000;
const MOST_COLUMNS = 60;

/** Words in a head that mean a drill, beside its own name and its trade description. */
const TRADE_WORDS: readonly [RegExp, string][] = [
  [/long fill|sustained/i, "long-fill"],
  [/sequential|seq\b|large blocks/i, "haul"],
  [/random|small blocks|4 ?kib/i, "scatter"],
  [/copy|folder/i, "ferry"],
];
const WAYS: readonly [RegExp, DrillDirection][] = [
  [/\b(mixed|read and write)\b/i, "mixed"],
  [/\b(write|writing|written|w)\b/i, "write"],
  [/\b(read|reading|r)\b/i, "read"],
];

/**
 * Reads a pasted grid. Nothing is guessed in silence: what it understood is in its columns and rows,
 * and what makes no sense is named by line and column.
 */
export function readGrid(text: string): Grid {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, "").trimEnd(), {
    delimiter: text.includes("\t") ? "\t" : "",
    delimitersToGuess: [";", ",", "|"],
  });
  const problems: GridProblem[] = [];
  const complain = (line: number, column: number, cell: string, problem: string) =>
    problems.push({ line, column, text: cell.slice(0, 80), problem });
  const [head = [], ...lines] = data;
  if (lines.length === 0) {
    complain(1, 1, head[0] ?? "", "a grid needs a line of heads and a line for each rig");
    return { columns: [], rows: [], problems };
  }
  if (lines.length > MOST_ROWS || head.length > MOST_COLUMNS) {
    complain(1, 1, "", `at most ${MOST_ROWS} lines and ${MOST_COLUMNS} columns`);
    return { columns: [], rows: [], problems };
  }
  const kinds = head.map(partKind);
  const columns = new Map<number, GridColumn>();
  head.forEach((cell, i) => {
    if (kinds[i] || (i === 0 && !drillOf(cell))) return;
    if (!cell.trim()) {
      if (lines.some((row) => row[i]?.trim())) complain(1, i + 1, "", "has no head");
      return;
    }
    const found = drillOf(cell);
    if (!found) complain(1, i + 1, cell, "is neither a drill nor a kind of part");
    else if (typeof found === "string") complain(1, i + 1, cell, found);
    else columns.set(i, { ...found, column: i + 1, head: cell.trim() });
  });
  const sign =
    decimalSignOf(lines.flatMap((row) => [...columns.keys()].map((i) => row[i] ?? ""))) ??
    undefined;
  const named = kinds[0] ? -1 : 0;
  const rows = lines.flatMap((row, i): GridRow[] => {
    if (row.every((cell) => !cell.trim())) return [];
    const line = i + 2;
    const cells = [...columns].flatMap(([at, column]) => {
      const cell = row[at]?.trim() ?? "";
      if (cell === "" || /^(-|–|—|n\/a)$/i.test(cell)) return [];
      const figure = readFigure(cell, column.unit, sign);
      if (figure) return [{ column, figure }];
      complain(line, at + 1, cell, `is no figure such as 452, 452 MB/s or 320 GB in 6:40`);
      return [];
    });
    const parts = kinds.flatMap((kind, at) => {
      const name = row[at]?.trim() ?? "";
      return kind && name ? [{ kind, name }] : [];
    });
    const name = named < 0 ? "" : (row[named]?.trim() ?? "");
    if (!name && parts.length === 0) complain(line, 1, "", "names no rig");
    return [{ line, name, parts, cells }];
  });
  if (columns.size === 0 && problems.length === 0) {
    complain(1, 1, head.join(" ").trim(), "no column is headed by a drill");
  }
  return { columns: [...columns.values()], rows, problems };
}

function partKind(head: string): PartKind | null {
  const plain = head.trim().toLowerCase().replace(/[-_]/g, " ");
  const found = Object.entries(PART_KIND_NAMES).find(
    ([kind, name]) => plain === name.toLowerCase() || plain === kind.replace("-", " "),
  );
  if (found) return found[0] as PartKind;
  return plain === "port" || plain === "host" ? "host-port" : null;
}

/** The drill a head means; a text where it means one and something is missing; null where none. */
function drillOf(head: string): Omit<GridColumn, "column" | "head"> | string | null {
  const plain = head.replaceAll("-", " ").trim();
  const own = DRILLS.find(({ title, name }) =>
    [title, name.replaceAll("-", " ")].some((word) => new RegExp(`\\b${word}\\b`, "i").test(plain)),
  );
  const trade = TRADE_WORDS.find(([words]) => words.test(plain))?.[1];
  const kind = own ?? DRILLS.find(({ name }) => name === trade);
  const said = WAYS.find(([words]) => words.test(plain))?.[1];
  const ofWayAlone = !kind && said !== undefined && DRILLS.find(({ name }) => name === "haul");
  const drill = kind ?? (ofWayAlone || null);
  if (!drill) return null;
  const only = drill.directions.length === 1 ? drill.directions[0] : undefined;
  const direction = said ?? only ?? drill.usualDirection;
  if (!direction)
    return `says neither reading nor writing: "${drill.title} read", "${drill.title} write"`;
  if (!drill.directions.includes(direction)) {
    return `${drill.title} goes ${drill.directions.join(" or ")} only`;
  }
  const unit = unitIn(head) ?? usualUnit(drill.shows.includes("iops"));
  return { drill: drill.name, direction, unit };
}

const usualUnit = (requests: boolean): Unit =>
  requests ? { kind: "iops", times: 1 } : { kind: "rate", mbps: 1 };

/** A unit in a head: "Haul read (MiB/s)", "Scatter read, kIOPS". */
export function unitIn(head: string): Unit | null {
  for (const word of head.split(/[\s,;()[\]]+/)) {
    const unit = readUnit(word);
    if (unit) return unit;
  }
  return null;
}
