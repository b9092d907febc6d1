import { z } from "zod";

/** Control characters: nothing that a person types, and what files, terminals and databases trip over. */
const CONTROLS = /[\u0000-\u001f\u007f-\u009f]/;
/** The same but for line ends and tabs. */
const CONTROLS_IN_NOTES = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/;
/** Half of a character: cannot be written as UTF-8. */
const HALF = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

const clean = (controls: RegExp) => (text: string) => !controls.test(text) && !HALF.test(text);
const UNCLEAN = "must not hold control characters";

/** A line of text: a name, a label. @param max characters */
export const line = (max: number) =>
  z.string().trim().max(max, `at most ${max} characters`).refine(clean(CONTROLS), UNCLEAN);

/** Text of several lines. @param max characters */
export const lines = (max: number) =>
  z.string().trim().max(max, `at most ${max} characters`).refine(clean(CONTROLS_IN_NOTES), UNCLEAN);

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
  text.replace(new RegExp(controls, "g"), "").replace(new RegExp(HALF, "g"), "");

/** Text without the characters that `line` refuses, for what was stored before they were refused. */
export const asLine = without(CONTROLS);
/** The same for text of several lines. */
export const asLines = without(CONTROLS_IN_NOTES);
