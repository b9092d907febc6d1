import * as z from "zod";
import { Direction } from "../units/rate";
import { CrossCheck } from "./cross-check";
import { MOST_SIGNS, UnreadLine } from "./stated-figure";

/** What is asked: which rig, which way, and what programs show, a line each. */
export const CrossCheckOrder = z.object({
  rigId: z.string().max(100),
  direction: Direction,
  text: z.string().max(MOST_SIGNS, `at most ${MOST_SIGNS} signs`),
});

/** What is answered. */
export const CrossCheckAnswer = z.object({
  /** Whether the rig has a Stride ladder that way, without which nothing can be said. */
  hasLadder: z.boolean(),
  problems: UnreadLine.array(),
  /** Null where no line was understood, or no ladder was done. */
  check: CrossCheck.nullable(),
});
export type CrossCheckAnswer = z.infer<typeof CrossCheckAnswer>;
