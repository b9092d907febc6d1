import { brokenAt, escaped } from "./framed-svg";
import type { Theme } from "./in-theme";
import type { Drawn } from "./drawn";
import type { Colours } from "./slide-colours";
import { channelIn, heldAt, type SlideChannel } from "./slide-channel";

/** One rig, claim or stage on a slide: its name, its rate as a bar, and the rate in figures. */
export interface SlideRow {
  name: string;
  figure: string;
  /** Lengths, in one unit for all rows; null where it is not known. */
  rate: number | null;
  /** What could have passed at most, as a mark; null where that is not known. */
  ceiling: number | null;
  /** A rig's channel, drawn in place of the bar. */
  channel?: SlideChannel;
}

/** A statement with what it rests on, set for a screen. */
export interface Slide {
  /** One sentence. */
  statement: string;
  rows: readonly SlideRow[];
  /** A chart in place of rows, drawn in some colours at a size of its own. */
  chart?: (theme: Theme, width: number, height: number) => Drawn;
  /** What was measured, how, and whether it is simulated. */
  source: string;
}

/** What a slide stands on; a clear one lies over a picture, with type in dark or in light. */
export const GROUNDS = {
  light: "light",
  dark: "dark",
  "clear-dark": "clear, dark type",
  "clear-light": "clear, light type",
} as const;
export type Ground = keyof typeof GROUNDS;

/** Pixels of a screen, 16:9. */
export const SLIDE = { width: 1920, height: 1080 };
/** More rows would be too small to be read on a phone. */
export const MOST_ROWS = 7;

const EDGE = 96;
/** Type of what stands under the name of a row: the least that a phone shows. */
const UNDER = 36;
/** Type of the line that says what a slide rests on. */
const SOURCE = 36;
const SERIF = "Newsreader, Georgia, serif";
const SANS = "'Barlow Semi Condensed', 'Arial Narrow', Arial, sans-serif";
const FIGURES = "'IBM Plex Mono', monospace";
/** The mean width of a letter, in heights of its type. */
const LETTER = { serif: 0.45, sans: 0.42, figures: 0.6 };

/** The theme whose colours a ground takes. */
export const themeOf = (ground: Ground): Theme =>
  ground === "dark" || ground === "clear-light" ? "dark" : "light";

/**
 * A slide as an SVG document of 1920 x 1080. Type is so large that it is read on a phone held upright,
 * where 1920 pixels are about 390.
 *
 * @param colours of the ground's theme
 */
export function slideSvg(slide: Slide, ground: Ground, colours: Colours): string {
  const inner = SLIDE.width - 2 * EDGE;
  const size = slide.statement.length > 110 ? 62 : 76;
  const lines = brokenAt(slide.statement, inner / (size * LETTER.serif)).slice(0, 4);
  const top = EDGE + lines.length * size * 1.2 + 36;
  const bottom = SLIDE.height - EDGE - 44;
  const words = lines
    .map(
      (text, i) =>
        `<text x="${EDGE}" y="${EDGE + size * (0.85 + 1.2 * i)}" font-family="${SERIF}" font-size="${size}" fill="${colours.ink}">${escaped(text)}</text>`,
    )
    .join("");
  const body = slide.chart
    ? chartIn(slide.chart, ground, { top, height: bottom - top, width: inner })
    : rowsIn(slide.rows.slice(0, MOST_ROWS), colours, { top, height: bottom - top, width: inner });
  const sources = brokenAt(slide.source, inner / (SOURCE * LETTER.sans));
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${SLIDE.width}" height="${SLIDE.height}" viewBox="0 0 ${SLIDE.width} ${SLIDE.height}" role="img">` +
    `<title>${escaped(slide.statement)}</title><desc>${escaped(slide.source)}</desc>` +
    (ground.startsWith("clear")
      ? ""
      : `<rect width="100%" height="100%" fill="${colours.paper}"/>`) +
    words +
    body +
    sources
      .slice(0, 2)
      .map(
        (text, i) =>
          `<text x="${EDGE}" y="${SLIDE.height - 84 + i * SOURCE * 1.15}" font-family="${SANS}" font-size="${SOURCE}" fill="${colours.secondary}">${escaped(text)}</text>`,
      )
      .join("") +
    "</svg>"
  );
}

interface Place {
  top: number;
  height: number;
  width: number;
}

function rowsIn(
  rows: readonly SlideRow[],
  colours: Colours,
  { top, height, width }: Place,
): string {
  const { ink, secondary, line, flow } = colours;
  if (rows.length === 0) return "";
  // A channel says more where it has more room; a bar does not.
  const most = rows.some(({ channel }) => channel) ? 240 : 128;
  const step = Math.min(most, height / rows.length);
  const type = Math.min(56, step * 0.5);
  const longest = Math.max(...rows.map(({ figure }) => figure.length)) * type * LETTER.figures;
  const names = width * 0.36;
  const bars = width - names - longest - 56;
  const longestBar = Math.max(
    1e-9,
    ...rows.flatMap(({ rate, ceiling }) => [rate ?? 0, ceiling ?? 0]),
  );
  return rows
    .map(({ name, figure, rate, ceiling, channel }, i) => {
      const middle = top + step * (i + 0.5);
      const thick = step * 0.4;
      const left = EDGE + names;
      const length = (value: number) => (value / longestBar) * bars;
      const ceilingMark =
        ceiling === null
          ? ""
          : `<rect x="${left}" y="${middle - thick / 2}" width="${length(ceiling)}" height="${thick}" fill="none" stroke="${ink}" stroke-width="3"/>`;
      const held = channel && step >= 2.2 * UNDER ? heldAt(channel) : null;
      const bar =
        `<rect x="${left}" y="${middle - thick / 2}" width="${bars}" height="${thick}" fill="${line}" fill-opacity="0.45"/>` +
        `<rect x="${left}" y="${middle - thick / 2}" width="${length(rate ?? 0)}" height="${thick}" fill="${flow}"/>` +
        ceilingMark;
      const drawn = { left, top: middle - step * 0.42, width: bars, height: step * 0.84 };
      const base = middle + type * 0.35 - (held ? UNDER * 0.5 : 0);
      return (
        `<text x="${EDGE}" y="${base}" font-family="${SANS}" font-size="${type}" font-weight="500" fill="${ink}">${escaped(shortened(name, (names - 24) / (type * LETTER.sans)))}</text>` +
        (held
          ? `<text x="${EDGE}" y="${base + UNDER * 1.15}" font-family="${SANS}" font-size="${UNDER}" fill="${secondary}">${escaped(shortened(`bottleneck: ${held}`, (names - 24) / (UNDER * LETTER.sans)))}</text>`
          : "") +
        (channel ? channelIn(channel, colours, drawn) : bar) +
        `<text x="${EDGE + width}" y="${middle + type * 0.35}" text-anchor="end" font-family="${FIGURES}" font-size="${type}" font-weight="600" fill="${ink}">${escaped(figure)}</text>`
      );
    })
    .join("");
}

/** A chart's own type is 11 px: it is drawn small, and enlarged until that is read on a phone. */
const ENLARGED = 3.6;

function chartIn(
  chart: NonNullable<Slide["chart"]>,
  ground: Ground,
  { top, height, width }: Place,
): string {
  const drawn = chart(themeOf(ground), Math.round(width / ENLARGED), Math.round(height / ENLARGED));
  // The page has charts of its own: names of clips must not be theirs.
  const inner = drawn.svg
    .replace(/^\s*<\?xml[^>]*>\s*/, "")
    .replace(/\bzr\d+-/g, (name) => `slide-${name}`);
  return `<g transform="translate(${EDGE} ${top}) scale(${ENLARGED})">${inner}</g>`;
}

const shortened = (text: string, most: number): string =>
  text.length <= most ? text : `${text.slice(0, Math.max(1, Math.floor(most) - 1)).trimEnd()}…`;
