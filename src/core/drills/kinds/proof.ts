import * as z from "zod";
import { formatSize } from "../../units/size";
import { defineDrill, together } from "../kind";
import { block, depth, span, type Parameter } from "../parameter";

const passes: Parameter<number> = {
  label: "Passes",
  hint: "times the span is written and checked",
  kind: "number",
  schema: z
    .number({ error: "must be a number" })
    .int("must be a whole number")
    .min(1, "at least 1")
    .max(100, "at most 100"),
  usual: () => ({ value: 2, reason: "2: only what is written over can turn out stale" }),
};

/** Proof: write, flush, drop what memory holds, read back, hold every page against what was written. */
export const PROOF = defineDrill({
  name: "proof",
  title: "Proof",
  what: "sequential, every block written and read back",
  why: "Finds data that is lost, stale, misplaced or damaged, and where. A fast drive that loses data is worth nothing.",
  directions: ["write"],
  targets: "one",
  picture: "proof",
  shows: [],
  repeats: 1,
  parameters: {
    span: span(),
    passes,
    block: block(2 ** 20, "large enough that requests cost nothing beside the bytes"),
    depth: depth(4, "keeps the drive busy from one request to the next"),
  },
  program({ span, passes, block, depth }) {
    const whole = Math.max(block, Math.floor(span / block) * block);
    return Array.from({ length: passes }, (_, pass) => pass + 1).flatMap((generation) => [
      {
        do: "flow" as const,
        label: { name: `pass ${generation}: writing` },
        writeShare: 1,
        order: "sequential" as const,
        block,
        depth,
        span: whole,
        laidOut: false,
        countFlush: true,
        generation,
      },
      {
        do: "check" as const,
        label: { name: `pass ${generation}: reading back` },
        block,
        depth,
        span: whole,
        generation,
      },
    ]);
  },
  headline: together,
  summary: ({ span, passes }) =>
    `${formatSize(span)}, ${passes} ${passes === 1 ? "pass" : "passes"}`,
});
