import * as z from "zod";
import { RateUnit } from "../units/rate";
import { line, lines } from "../units/text";
import { Writing } from "../units/writing";

/** The sections of a report, in their usual order. */
export const SECTIONS = {
  answer: "Answer",
  verdicts: "Does it deliver?",
  argument: "What limits each rig, and why",
  figures: "Figures",
  traces: "Over time",
  demands: "What it is wanted for",
  gear: "Gear",
  method: "How it was measured",
  limits: "What stays open",
  changes: "What changed since the last issue",
  runs: "Every run",
} as const;
export type SectionKey = keyof typeof SECTIONS;
const KEYS = Object.keys(SECTIONS) as [SectionKey, ...SectionKey[]];

const SectionChoice = z.strictObject({
  key: z.enum(KEYS),
  shown: z.boolean().default(true),
  /** The tester's own words, as Markdown. */
  text: lines(20_000).default(""),
});

/** A picture of the bench, by what it holds, and where it stands. */
const PhotoChoice = z.strictObject({
  /** SHA-256 of what it holds. */
  id: z.string().regex(/^[0-9a-f]{64}$/, "is no picture's identifier"),
  section: z.enum(KEYS),
  /** What it shows: for those who do not see it too. */
  caption: line(300).min(1, "say what it shows"),
});
export const MOST_PHOTOS = 24;

/**
 * How a study is reported: what stands in it, in which order, and how figures are written. A page's
 * report is written as everything else is; a command says it with the report.
 */
export const ReportChoice = z.strictObject({
  /** Instead of the study's title. */
  title: line(200).default(""),
  author: line(120).default(""),
  sections: z
    .array(SectionChoice)
    .max(KEYS.length, "names a section twice")
    .refine(
      (all) => new Set(all.map(({ key }) => key)).size === all.length,
      "names a section twice",
    )
    .default([])
    // What is not named follows in its usual place: a later version may know more sections.
    .transform((all) => [
      ...all,
      ...KEYS.filter((key) => all.every((one) => one.key !== key)).map((key) =>
        SectionChoice.parse({ key }),
      ),
    ]),
  photos: z.array(PhotoChoice).max(MOST_PHOTOS, `at most ${MOST_PHOTOS} pictures`).default([]),
  unit: RateUnit.default("MB/s"),
  ...Writing.shape,
});
export type ReportChoice = z.infer<typeof ReportChoice>;

export const USUAL_CHOICE: ReportChoice = ReportChoice.parse({});
