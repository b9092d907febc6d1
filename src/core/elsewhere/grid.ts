import { PART_KIND_NAMES, type PartKind } from "../chain/part";
import { cellsOf } from "./cells";
import { columnOf, saidColumn, type GridColumn, type SaidColumn } from "./column";
import { decimalSignOf, readFigure, type Figure } from "./figure";
import { readLadder, type PastedLadder } from "./ladder";
import type { GridProblem } from "./problem";

/**
 * A grid as it is copied out of a spreadsheet: rows are rigs, columns are drills. Columns headed by a
 * kind of part name the parts of each row's rig.
 */

export interface GridRow {
  line: number;
  /** What the rig is called; empty where only its parts are named. */
  name: string;
  /** Parts from host to drive, as named. */
  parts: { kind: PartKind; name: string }[];
  /** What stands in the columns of drills; an empty cell is left out. */
  cells: { column: GridColumn; figure: Figure }[];
}

/** A head that is to name a drill, with what it was understood as; null: as nothing. */
export interface GridHead {
  column: number;
  head: string;
  of: GridColumn | null;
}

export interface Grid {
  columns: GridColumn[];
  heads: GridHead[];
  /** Where the table is a whole ladder of one rig; then it has no rows of rigs. */
  ladder: PastedLadder | null;
  rows: GridRow[];
  problems: GridProblem[];
}

const MOST_ROWS = 1000;
const MOST_COLUMNS = 60;

/** What a tester says of columns, by their numbers as people count; null leaves one out. */
export type SaidColumns = Readonly<Record<string, SaidColumn | null>>;

const NOTHING = { columns: [], heads: [], rows: [], ladder: null };

/**
 * Reads a pasted grid. Nothing is guessed in silence: what it understood is in its columns and rows,
 * and what makes no sense is named by line and column.
 */
export function readGrid(text: string, said: SaidColumns = {}): Grid {
  const data = cellsOf(text);
  const problems: GridProblem[] = [];
  const complain = (line: number, column: number, cell: string, problem: string) =>
    problems.push({ line, column, text: cell.slice(0, 80), problem });
  const [head = [], ...lines] = data;
  if (lines.length === 0) {
    complain(1, 1, head[0] ?? "", "a grid needs a line of heads and a line for each rig");
    return { ...NOTHING, problems };
  }
  if (lines.length > MOST_ROWS || head.length > MOST_COLUMNS) {
    complain(1, 1, "", `at most ${MOST_ROWS} lines and ${MOST_COLUMNS} columns`);
    return { ...NOTHING, problems };
  }
  const ladder = readLadder(data);
  if (ladder) return { ...NOTHING, ...ladder };
  const kinds = head.map(partKind);
  const columns = new Map<number, GridColumn>();
  const heads: GridHead[] = [];
  head.forEach((cell, i) => {
    if (kinds[i] || (i === 0 && !columnOf(cell))) return;
    if (!cell.trim()) {
      if (lines.some((row) => row[i]?.trim())) complain(1, i + 1, "", "has no head");
      return;
    }
    const own = said[String(i + 1)];
    const found = own ? saidColumn(own, cell) : columnOf(cell);
    const at = { column: i + 1, head: cell.trim() };
    const of = found && typeof found !== "string" ? { ...found, ...at } : null;
    heads.push({ ...at, of });
    if (own === null) return;
    if (of) columns.set(i, of);
    else complain(1, i + 1, cell, found?.toString() ?? "is neither a drill nor a kind of part");
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
  return { columns: [...columns.values()], heads, rows, ladder: null, problems };
}

function partKind(head: string): PartKind | null {
  const plain = head.trim().toLowerCase().replace(/[-_]/g, " ");
  const found = Object.entries(PART_KIND_NAMES).find(
    ([kind, name]) => plain === name.toLowerCase() || plain === kind.replace("-", " "),
  );
  if (found) return found[0] as PartKind;
  return plain === "port" || plain === "host" ? "host-port" : null;
}
