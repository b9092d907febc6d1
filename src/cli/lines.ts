/** What fits a terminal of 80. */
export const WIDTH = 80;

/** Breaks text into lines of at most 80 characters, at spaces. @param indent spaces before each */
export function wrapped(text: string, indent = 0): string[] {
  const lines: string[] = [];
  let line = "";
  for (const word of text.split(/\s+/).filter(Boolean)) {
    if (line && indent + line.length + 1 + word.length > WIDTH) {
      lines.push(line);
      line = "";
    }
    line = line ? `${line} ${word}` : word;
  }
  if (line) lines.push(line);
  return lines.map((each) => " ".repeat(indent) + each);
}

/** A table of text: the first column to the left, all others to the right, two spaces between. */
export function table(head: readonly string[], rows: readonly (readonly string[])[]): string[] {
  const all = [head, ...rows];
  const widths = head.map((_, i) => Math.max(...all.map((row) => (row[i] ?? "").length)));
  return all.map((row) =>
    row
      .map((cell, i) => (i === 0 ? cell.padEnd(widths[i]!) : cell.padStart(widths[i]!)))
      .join("  ")
      .trimEnd(),
  );
}

/** A bar as wide as a share of some width. @param share 0 to 1 */
export const bar = (share: number, width = 24): string =>
  "█".repeat(Math.max(0, Math.min(width, Math.round(share * width)))).padEnd(width);
