import { sizeIn } from "../units/size";
import { blockSchema, depthSchema } from "../units/request";
import { unitIn } from "./column";
import { decimalSignOf, readFigure, type Figure } from "./figure";
import { requestsIn } from "./requests";
import type { GridProblem } from "./problem";

/** A whole ladder as it is copied out of a table: sizes or numbers in flight in rows, ways in columns. */
export interface PastedLadder {
  by: "block" | "depth";
  directions: ("read" | "write")[];
  rows: { line: number; at: number; figures: Partial<Record<"read" | "write", Figure>> }[];
}

const BY_BLOCK = /^(block|block size|request|request size|transfer size|size)$/i;
const BY_DEPTH = /^(in flight|depth|queue depth|qd?|outstanding)$/i;

/**
 * Reads a table as a ladder of one rig.
 *
 * @param data lines and cells, the heads first
 * @returns null where the table is none: its first column is headed otherwise, or no way is named
 */
export function readLadder(
  data: readonly (readonly string[])[],
): { ladder: PastedLadder; problems: GridProblem[] } | null {
  const [head = [], ...lines] = data;
  const first = (head[0] ?? "").replace(/\(.*\)/, "").trim();
  const by = BY_BLOCK.test(first) ? "block" : BY_DEPTH.test(first) ? "depth" : null;
  if (!by) return null;
  const ways = head.map((cell, i) => (i === 0 ? null : wayOf(cell)));
  const directions = [...new Set(ways.flatMap((way) => way ?? []))];
  if (directions.length === 0) return null;
  const problems: GridProblem[] = [];
  head.forEach((cell, i) => {
    if (i > 0 && cell.trim() && !ways[i])
      problems.push({ line: 1, column: i + 1, text: cell, problem: "is neither read nor write" });
  });
  const sign = decimalSignOf(lines.flatMap((row) => row.slice(1))) ?? undefined;
  const rows = lines.flatMap((row, i) => {
    if (row.every((cell) => !cell.trim())) return [];
    const line = i + 2;
    const at = stepOf(row[0] ?? "", by);
    if (at === null)
      problems.push({
        line,
        column: 1,
        text: row[0] ?? "",
        problem:
          by === "block"
            ? "is no size such as 4 KiB or 1 MiB"
            : "is no number of requests in flight",
      });
    const figures: PastedLadder["rows"][number]["figures"] = {};
    ways.forEach((way, at) => {
      const cell = row[at]?.trim() ?? "";
      if (!way || cell === "" || /^[-–—]$/.test(cell)) return;
      const figure = readFigure(cell, unitIn(head[at]!) ?? { kind: "rate", mbps: 1 }, sign);
      if (figure) figures[way] = figure;
      else problems.push({ line, column: at + 1, text: cell, problem: "is no figure" });
    });
    return at === null ? [] : [{ line, at, figures }];
  });
  const twice = rows.find(({ at }, i) => rows.findIndex((row) => row.at === at) < i);
  if (twice)
    problems.push({ line: twice.line, column: 1, text: "", problem: "stands there twice" });
  return { ladder: { by, directions, rows: rows.toSorted((a, b) => a.at - b.at) }, problems };
}

const wayOf = (head: string): "read" | "write" | null =>
  /\b(write|writing|w)\b/i.test(head)
    ? "write"
    : /\b(read|reading|r)\b/i.test(head)
      ? "read"
      : null;

function stepOf(text: string, by: PastedLadder["by"]): number | null {
  if (by === "depth") {
    const depth = Number(text.replace(/[^\d]/g, "") || NaN);
    return depthSchema.safeParse(depth).data ?? null;
  }
  const plain = /^\s*\d+\s*$/.test(text) ? `${text.trim()} B` : text;
  const named = requestsIn(plain).block ?? sizeIn(text);
  return blockSchema.safeParse(named).data ?? null;
}
