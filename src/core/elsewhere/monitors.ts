/**
 * Logs of the monitors that systems bring, in the forms that their manuals describe and that no head tells:
 * the columns of a disk monitor of BSD kind (iostat(8) of macOS) and those of vmstat(8). They become a
 * table with heads that say what each column is.
 */

/** A table of a log: a line of heads, and lines of values. */
interface Table {
  heads: string[];
  rows: string[][];
}

/**
 * The same log as comma-separated values, where its form is known; null for any other.
 *
 * The first line of values of both tells the mean since the machine was started, and is left out. Without
 * times of their own, lines are a second apart, as they are where the monitor is asked for one a second.
 */
export function monitorTable(text: string): string | null {
  const lines = text.split(/\r?\n/);
  const table = diskMonitor(lines) ?? memoryMonitor(lines);
  return table && [table.heads, ...table.rows].map((cells) => cells.join(",")).join("\n");
}

/** A decimal comma as a point: of a system whose language writes numbers so. */
const plain = (cell: string) => cell.replace(",", ".");
const words = (line: string) => line.trim().split(/\s+/).filter(Boolean);
const isNumbers = (cells: readonly string[]) =>
  cells.length > 0 && cells.every((cell) => /^\d+(?:[.,]\d+)?$/.test(cell));

/** iostat(8) of macOS with -d: for each disk KB/t, tps and MB/s, which are of 1024 and of 1024² bytes. */
function diskMonitor(lines: readonly string[]): Table | null {
  const at = lines.findIndex((line) => /^\s*KB\/t\s+tps\s+MB\/s/.test(line));
  if (at < 1) return null;
  const disks = words(lines[at - 1]!);
  const values = lines
    .slice(at + 1)
    .map(words)
    .filter((cells) => isNumbers(cells) && cells.length === 3 * disks.length)
    .slice(1)
    .map((cells) => disks.map((_, i) => plain(cells[3 * i + 2]!)));
  const moved = disks.map((_, i) => values.reduce((sum, row) => sum + Number(row[i]), 0));
  const busiest = moved.indexOf(Math.max(...moved));
  return {
    heads: ["seconds", `${disks[busiest]} MiB/s`],
    rows: values.map((row, i) => [String(i + 1), row[busiest]!]),
  };
}

/** vmstat(8): bi and bo are what all drives read and wrote, KiB a second. */
function memoryMonitor(lines: readonly string[]): Table | null {
  const head = lines.find((line) => /\bbi\s+bo\b/.test(line));
  if (!head) return null;
  const names = words(head);
  const [reads, writes] = [names.indexOf("bi"), names.indexOf("bo")];
  const rows = lines
    .map(words)
    .filter((cells) => isNumbers(cells.slice(0, writes + 1)) && cells.length >= writes + 1)
    .slice(1);
  // With -t, a date and a time stand behind the numbers.
  const stamp = (cells: readonly string[]) =>
    /(\d{4}-\d\d-\d\d) (\d\d:\d\d:\d\d)$/.exec(cells.join(" "))?.[0];
  const isStamped = rows.length > 0 && rows.every((cells) => stamp(cells) !== undefined);
  return {
    heads: [isStamped ? "time" : "seconds", "all drives read KiB/s", "all drives write KiB/s"],
    rows: rows.map((cells, i) => [
      isStamped ? stamp(cells)! : String(i + 1),
      cells[reads]!,
      cells[writes]!,
    ]),
  };
}
