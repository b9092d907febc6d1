import * as z from "zod";
import { readFigure, rateOfFigure } from "../elsewhere/figure";
import { requestsIn } from "../elsewhere/requests";
import { blockSchema, depthSchema } from "../units/request";
import { unturned } from "../units/text";

/** What another program shows of a rig, and how it asked. */
export const StatedFigure = z.object({
  /** The program's, as the tester calls it. */
  name: z.string(),
  mbps: z.number().positive(),
  /** Bytes of a request, and how many were in flight. */
  block: blockSchema,
  depth: depthSchema,
  isRandom: z.boolean(),
});
export type StatedFigure = z.infer<typeof StatedFigure>;

/** A line that is not understood: which, and what is missing. */
export const UnreadLine = z.object({ line: z.number().int(), problem: z.string() });
export type UnreadLine = z.infer<typeof UnreadLine>;

/** What is read at once: programs of one rig, a line each. */
export const MOST_LINES = 12;
/** Signs of all lines together. */
export const MOST_SIGNS = 4000;
const MOST_NAME = 80;
const MOST_IN_LINE = 300;

/**
 * Reads what programs show, one in a line: "Marmot: 1 430 MB/s, 1 MiB, 8 in flight, random". What stands before
 * the first colon is the program; sequential is what is not called random.
 */
export function readStated(text: string): { figures: StatedFigure[]; problems: UnreadLine[] } {
  const figures: StatedFigure[] = [];
  const problems: UnreadLine[] = [];
  const lines = unturned(text).slice(0, MOST_SIGNS).split("\n");
  for (const [i, words] of lines.entries()) {
    if (words.trim() === "") continue;
    const read =
      figures.length + problems.length < MOST_LINES
        ? readLine(words)
        : `at most ${MOST_LINES} lines are held against each other`;
    if (typeof read === "string") problems.push({ line: i + 1, problem: read });
    else figures.push(read);
  }
  return { figures, problems };
}

/** @returns what is missing where it is not understood */
function readLine(words: string): StatedFigure | string {
  if (words.length > MOST_IN_LINE) return `is longer than ${MOST_IN_LINE} signs`;
  const [, name = "", said = ""] = /^([^:]*):(.*)$/.exec(words) ?? [];
  if (name.trim() === "") return "begins with no program’s name and a colon";
  const { block, depth, rest } = requestsIn(said);
  if (!blockSchema.safeParse(block).success)
    return "says no size of a request, for example 128 KiB or 1 MiB";
  if (!depthSchema.safeParse(depth).success)
    return "does not say how many requests are in flight, for example 8 in flight";
  // A comma before a blank parts; one within a number groups its digits.
  const figure = rest
    .split(/[,;]\s+|[,;]\s*$|\b(?:at|with|random|sequential|reading|writing)\b/i)
    .map((piece) => readFigure(piece.trim(), null))
    .find((one) => one !== null);
  if (!figure) return "has no figure with its unit, for example 730 MB/s or 85 000 IOPS";
  return {
    name: name.trim().slice(0, MOST_NAME),
    mbps: rateOfFigure(figure, block!),
    block: block!,
    depth: depth!,
    isRandom: /\brandom\b/i.test(said),
  };
}
