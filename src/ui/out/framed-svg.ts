/** What stands on a picture that leaves the program, beside what it shows. */
export interface Caption {
  title: string;
  /** What was compared, in which unit, and whether it was simulated. */
  note: string;
}

/** Colours of a picture that leaves the program: always those of the light theme. */
export const PAPER = { sheet: "#fbf8f1", ink: "#1d2a30", secondary: "#566466", line: "#d9d3c3" };
const SANS = "'Barlow Semi Condensed', 'Arial Narrow', Arial, sans-serif";

const [EDGE, TITLE, LINE] = [16, 22, 16];

/**
 * Puts a title over a picture and what it is of below it.
 *
 * @param inner the picture, an SVG document of its own
 * @param width of it, pixels @param height of it
 */
export function framedSvg(
  inner: string,
  width: number,
  height: number,
  { title, note }: Caption,
): { svg: string; width: number; height: number } {
  // A condensed letter of 13 px is about 5.6 wide.
  const titles = brokenAt(title, Math.floor(width / 9));
  const notes = brokenAt(note, Math.floor(width / 5.8));
  const top = EDGE + TITLE * titles.length + 6;
  const whole = {
    width: width + 2 * EDGE,
    height: top + height + 10 + LINE * notes.length + EDGE,
  };
  const lines = (all: string[], y: number, step: number, look: string) =>
    all
      .map((text, i) => `<text x="${EDGE}" y="${y + step * i}" ${look}>${escaped(text)}</text>`)
      .join("");
  const placed = inner
    .replace(/^\s*<\?xml[^>]*>\s*/, "")
    .replace(/<svg /, `<svg x="${EDGE}" y="${top}" `);
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" width="${whole.width}" height="${whole.height}" viewBox="0 0 ${whole.width} ${whole.height}" role="img">` +
    `<title>${escaped(title)}</title><desc>${escaped(note)}</desc>` +
    `<rect width="100%" height="100%" fill="${PAPER.sheet}"/>` +
    lines(
      titles,
      EDGE + 14,
      TITLE,
      `font-family="${SANS}" font-size="18" font-weight="600" fill="${PAPER.ink}"`,
    ) +
    placed +
    lines(
      notes,
      top + height + 22,
      LINE,
      `font-family="${SANS}" font-size="13" fill="${PAPER.secondary}"`,
    ) +
    "</svg>";
  return { svg, ...whole };
}

const ESCAPES: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" };
/** Text as it stands in an SVG document. */
export const escaped = (text: string): string =>
  // Control signs are in no XML document.
  text
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f]/g, "")
    .replace(/[&<>"]/g, (c) => ESCAPES[c]!);

/** Breaks text at spaces, and never between a figure and its unit. @param most letters of a line */
export function brokenAt(text: string, most: number): string[] {
  const lines: string[] = [];
  const together = text.replace(/(\d) (?=[GM]b\/s|MB\/s|GB|TB|min|s\b)/g, "$1\u00a0");
  for (const word of together.split(/[ \n]+/)) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + word.length < most)
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}
