import { counted } from "../units/counted";
import { formatPercent } from "../units/number";
import { DOING } from "../units/rate";
import type { ShownComparison, ShownRow } from "./shown";

/**
 * The answer to a question in a sentence or two: of its first drill the fastest and the slowest rig,
 * and how the others stand to the baseline.
 *
 * @param rate how a rate is written, with its unit
 */
export function tellComparison(
  { columns, rows, baseline, origin }: ShownComparison,
  rate: (mbps: number) => string,
): string {
  const at = columns.findIndex((_, i) => rows.some(({ cells }) => cells[i]));
  const column = columns[at];
  if (!column) return "";
  const seen = rows
    .filter(({ cells }) => cells[at] && !cells[at].doubtful)
    .toSorted((a, b) => b.cells[at]!.repeats.median - a.cells[at]!.repeats.median);
  const [fast, slow] = [seen[0], seen.at(-1)];
  const what = `${column.title} ${DOING[column.direction]}`;
  if (!fast || !slow) return `${what}: memory may have answered in every run, so nothing is shown.`;
  const named = ({ letter, name }: ShownRow) => `${letter} (${name})`;
  const figure = (row: ShownRow) => rate(row.cells[at]!.repeats.median);
  const simulated = origin === "simulated" ? " All of it is simulated." : "";
  if (fast === slow) return `${what}: rig ${named(fast)} gives ${figure(fast)}.${simulated}`;
  const first = `${what}: from ${figure(slow)} through rig ${named(slow)} to ${figure(fast)} through rig ${named(fast)}.`;
  if (!baseline) return first + simulated;
  const marks = rows.flatMap(({ cells }) => cells[at]?.mark ?? []);
  const count = (mark: string) => marks.filter((one) => one === mark).length;
  const better = rows
    .filter(({ cells }) => cells[at]?.mark === "above")
    .map(({ cells }) => cells[at]!.retention! - 1);
  const most = better.length > 0 ? `, by up to ${formatPercent(Math.max(...better))}` : "";
  const stands = [
    [count("above"), `above it${most}`],
    [count("below"), "below it"],
    [count("same"), "the same within the noise"],
    [count("unknown"), "of which it cannot be told"],
  ] as const;
  const told = stands.filter(([n]) => n > 0).map(([n, how]) => `${counted(n, "rig")} ${how}`);
  if (told.length === 0) return first + simulated;
  return `${first} Against rig ${baseline.letter}: ${told.join(", ")}.${simulated}`;
}
