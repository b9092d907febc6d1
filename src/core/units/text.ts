import * as z from "zod";

/** Control characters: nothing that a person types, and what files, terminals and databases trip over. */
const CONTROLS = /[\u0000-\u001f\u007f-\u009f]/;
/** The same but for line ends and tabs. */
const CONTROLS_IN_NOTES = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/;
/** Half of a character: cannot be written as UTF-8. */
const HALF = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/**
 * Signs that turn the direction of whatever follows them: in a name they would turn the sentence round
 * it. Scripts that are written from right to left need none of them.
 */
const TURNS = /[\u202a-\u202e\u2066-\u2069]/g;

/** Text in which nothing turns the direction of what stands beside it. */
export const unturned = (text: string): string => text.replace(TURNS, "");

const clean = (controls: RegExp) => (text: string) => !controls.test(text) && !HALF.test(text);
const UNCLEAN = "must not hold control characters";

/** A line of text: a name, a label. @param max characters */
export const line = (max: number) =>
  z
    .string()
    .overwrite(unturned)
    .trim()
    .max(max, `at most ${max} characters`)
    .refine(clean(CONTROLS), UNCLEAN);

/** Text of several lines. @param max characters */
export const lines = (max: number) =>
  z
    .string()
    .overwrite(unturned)
    .trim()
    .max(max, `at most ${max} characters`)
    .refine(clean(CONTROLS_IN_NOTES), UNCLEAN);

/** A path of this machine. */
export const absolutePath = (asked: string) =>
  z
    .string()
    .trim()
    .min(1, asked)
    .startsWith("/", "must be an absolute path, beginning with /")
    .max(4096, "is longer than any path")
    .refine((path) => !path.includes("\0"), UNCLEAN);

const without = (controls: RegExp) => (text: string) =>
  unturned(text).replace(new RegExp(controls, "g"), "").replace(new RegExp(HALF, "g"), "");

/** Text without what `line` refuses or takes out, for what was stored before it did. */
export const asLine = without(CONTROLS);
/** The same for text of several lines. */
export const asLines = without(CONTROLS_IN_NOTES);
