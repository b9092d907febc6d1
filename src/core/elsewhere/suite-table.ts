import { MOST_TESTS, type SuiteTest } from "../study/suite";
import { cellsOf } from "./cells";
import { decimalSignOf, readNumber, readUnit, type DecimalSign } from "./figure";
import type { GridProblem } from "./problem";

/** A rig as the heads of a pasted table may name it. */
export interface NamedRig {
  id: string;
  letter: string;
  name: string;
}

/** A suite's results as pasted. */
export interface SuiteTable {
  rigIds: string[];
  tests: SuiteTest[];
  problems: GridProblem[];
}

/** More is too much for one table. */
const MOST_SIGNS = 100_000;

/**
 * Reads a suite's results out of a spreadsheet: tests in rows and rigs in columns, or the other way round. Rigs
 * are named by letter or name; a unit stands behind a test's name in parentheses, or behind a figure. Of times the
 * smaller one is better, and of whatever says so: "(points, less is better)".
 */
export function readSuite(text: string, rigs: readonly NamedRig[]): SuiteTable {
  const asked = cellsOf(text.slice(0, MOST_SIGNS).replace(/^[\r\n]+/, "")).map((row) =>
    row.map((cell) => cell.trim()),
  );
  if (asked.length < 2)
    return nothing("a suite needs a line that names rigs and a line for each test");
  const isRig = (cell: string) => rigNamed(cell, rigs) !== undefined;
  const heads = (asked[0] ?? []).slice(1).filter(isRig).length;
  const firsts = asked.slice(1).filter(([first = ""]) => isRig(first)).length;
  const isTurned = firsts > heads;
  const rows = isTurned ? turned(asked) : asked;
  const place = (row: number, column: number) =>
    isTurned ? { line: column + 1, column: row + 1 } : { line: row + 1, column: column + 1 };
  const problems: GridProblem[] = [];
  const rigIds: string[] = [];
  const columns: number[] = [];
  (rows[0] ?? []).forEach((cell, at) => {
    if (at === 0) return;
    const rig = rigNamed(cell, rigs);
    if (rig && !rigIds.includes(rig.id)) {
      rigIds.push(rig.id);
      columns.push(at);
    } else if (cell)
      problems.push({
        ...place(0, at),
        text: cell.slice(0, 80),
        problem: rig ? "names a rig twice" : "is no rig of this study, by letter or by name",
      });
  });
  if (rigIds.length === 0) return { ...nothing("no rig of this study is named"), problems };
  const sign =
    decimalSignOf(rows.slice(1).flatMap((row) => columns.map((at) => row[at] ?? ""))) ?? undefined;
  const names = new Set<string>();
  const tests = rows.slice(1).flatMap((row, i): SuiteTest[] => {
    if (row.every((cell) => !cell)) return [];
    const { named, unitNamed, isLessSaid } = nameAndUnit(row[0] ?? "");
    const complain = (at: number, text: string, problem: string) =>
      problems.push({ ...place(i + 1, at), text: text.slice(0, 80), problem });
    if (!named) {
      complain(0, "", "names no test");
      return [];
    }
    const name = named.slice(0, 80);
    if (names.has(name)) {
      complain(0, name, "stands there twice");
      return [];
    }
    names.add(name);
    const cells = columns.map((at) => cellOf(row[at] ?? "", sign));
    cells.forEach((cell, at) => {
      if (cell === "none") complain(columns[at]!, row[columns[at]!]!, "is no figure above 0");
    });
    const read = cells.map((cell) => (cell === "none" ? null : cell));
    const unit = unitOf(unitNamed || (read.find((cell) => cell?.unit)?.unit ?? ""));
    const values = read.map((cell) =>
      cell ? cell.value * unitOf(cell.unit || unit.said).times : null,
    );
    return [{ name, unit: unit.shown, isLessBetter: unit.isTime || isLessSaid, values }];
  });
  if (tests.length > MOST_TESTS)
    problems.push({ line: 1, column: 1, text: "", problem: `at most ${MOST_TESTS} tests` });
  return { rigIds, tests: tests.slice(0, MOST_TESTS), problems };
}

const nothing = (problem: string): SuiteTable => ({
  rigIds: [],
  tests: [],
  problems: [{ line: 1, column: 1, text: "", problem }],
});

const turned = (rows: readonly (readonly string[])[]): string[][] =>
  Array.from({ length: Math.max(...rows.map((row) => row.length)) }, (_, at) =>
    rows.map((row) => row[at] ?? ""),
  );

/** By letter ("B", "rig B"), by name, or by both ("B · Nunatak"). */
function rigNamed(cell: string, rigs: readonly NamedRig[]): NamedRig | undefined {
  const plain = cell
    .toLowerCase()
    .replace(/^rig\s+/, "")
    .trim();
  return rigs.find(({ letter, name }) =>
    [letter, name, `${letter} · ${name}`, `${letter} ${name}`].some(
      (one) => one !== "" && one.toLowerCase() === plain,
    ),
  );
}

/** "Open a project (s)", "Delay (points, less is better)": its name, its unit, and which figure is the better one. */
function nameAndUnit(head: string): { named: string; unitNamed: string; isLessSaid: boolean } {
  const found = /^(.*?)\s*[([]([^()[\]]{1,40})[)\]]$/.exec(head);
  if (!found?.[1]) return { named: head, unitNamed: "", isLessSaid: false };
  const [unit = "", ...said] = found[2]!.split(",").map((part) => part.trim());
  const isLess = (text: string) => /^(less|lower|smaller|fewer) is better$/i.test(text);
  return {
    named: found[1],
    unitNamed: isLess(unit) ? "" : unit.slice(0, 20),
    isLessSaid: [unit, ...said].some(isLess),
  };
}

/** A figure with its unit; null where the cell is empty; "none" where it makes no sense. */
function cellOf(
  text: string,
  sign: DecimalSign | undefined,
): { value: number; unit: string } | "none" | null {
  if (text === "" || /^([-–—]|n\/a)$/i.test(text)) return null;
  const found = /^([\d.,’'\u00a0\u202f ]*\d)\s*(.*)$/.exec(text);
  const value = found ? readNumber(found[1]!, sign) : null;
  return value !== null && value > 0 ? { value, unit: found![2]!.slice(0, 20) } : "none";
}

const TIMES: Record<string, number> = {
  ms: 1e-3,
  s: 1,
  sec: 1,
  seconds: 1,
  min: 60,
  minutes: 60,
  h: 3600,
};

/** What a unit is shown as, what a figure in it is times, and whether it is of time. */
function unitOf(said: string): { said: string; shown: string; times: number; isTime: boolean } {
  const time = TIMES[said.toLowerCase()];
  if (time !== undefined) return { said, shown: "s", times: time, isTime: true };
  const rate = readUnit(said);
  if (rate?.kind === "rate") return { said, shown: "MB/s", times: rate.mbps, isTime: false };
  return { said, shown: said || "points", times: 1, isTime: false };
}
