import * as z from "zod";

const NARROW_SPACE = "\u202f";

/** How figures can be written: what parts the thousands, and what the decimals. */
export const NUMBER_STYLES = {
  "1 234.5": { groups: NARROW_SPACE, point: "." },
  "1 234,5": { groups: NARROW_SPACE, point: "," },
  "1,234.5": { groups: ",", point: "." },
  "1.234,5": { groups: ".", point: "," },
} as const;
export type NumberStyle = keyof typeof NUMBER_STYLES;
const NUMBERS = Object.keys(NUMBER_STYLES) as [NumberStyle, ...NumberStyle[]];

/** How days can be written. */
export const DATE_STYLES = ["2026-11-26", "26 November 2026", "November 26, 2026"] as const;
export type DateStyle = (typeof DATE_STYLES)[number];

/** How figures and days are written: one setting for pages and reports. */
export const Writing = z.strictObject({
  numbers: z.enum(NUMBERS).default("1 234.5"),
  dates: z.enum(DATE_STYLES).default("2026-11-26"),
});
export type Writing = z.infer<typeof Writing>;
export const USUAL_WRITING: Writing = Writing.parse({});

// The pages, what draws them on the server and the services are bundles of their own in one process,
// and in a browser the page says it before any of them is loaded: what they share is global.
const shared = globalThis as { nerritWriting?: Writing; nerritZone?: string };

/** The time zone of where Nerrit runs: a page's own browser may stand elsewhere. */
export const zoneHere = (): string =>
  shared.nerritZone ?? Intl.DateTimeFormat().resolvedOptions().timeZone;

/** How this process, or this browser's page, writes figures and days. */
export const writing = (): Writing => shared.nerritWriting ?? USUAL_WRITING;

/** Writes everything from now on in another way. */
export function writeAs(other: Writing): void {
  shared.nerritWriting = other;
}

/**
 * Writes everything that is said meanwhile in another way: for a whole report, whose sentences come from
 * all over the core.
 *
 * @param say works at once, not later
 */
export function writtenAs<T>(other: Writing, say: () => T): T {
  const before = writing();
  writeAs(other);
  try {
    return say();
  } finally {
    writeAs(before);
  }
}

/** What a page runs before anything else, so that it writes as the server does, in the same time zone. */
export const writingScript = (style: Writing): string =>
  `globalThis.nerritWriting=${JSON.stringify(style)};globalThis.nerritZone=${JSON.stringify(zoneHere())}`;
