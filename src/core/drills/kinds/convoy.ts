import * as z from "zod";
import { formatSize } from "../../units/size";
import { defineDrill, first, writeShareOf } from "../kind";
import {
  block,
  compressible,
  countFlush,
  depth,
  seconds,
  span,
  type Parameter,
} from "../parameter";
import { leadInOf } from "../../run/program";

const every: Parameter<number> = {
  label: "One more every",
  hint: "seconds until the next drive joins; 0: all at once",
  kind: "seconds",
  schema: z
    .number({ error: "must be a number of seconds" })
    .min(0, "not negative")
    .max(3600, "at most an hour"),
  usual: () => ({ value: 0, reason: "0 s: all at once; 5 s shows what each further drive adds" }),
};

/** Convoy: several drives at once, or one more every so many seconds. */
export const CONVOY = defineDrill({
  name: "convoy",
  title: "Convoy",
  what: "sequential, several drives at once",
  why: "Shows how drives share one uplink, and how much the uplink carries in all.",
  directions: ["read", "write"],
  usualDirection: "read",
  targets: "several",
  picture: "targets",
  shows: ["peak"],
  repeats: 1,
  parameters: {
    everySeconds: every,
    block: block(
      512 * 2 ** 10,
      "where hosts commonly cap one USB transfer, so that no request is split",
    ),
    depth: depth(8, "of each drive; keeps each busy from one request to the next"),
    span: span(),
    seconds: seconds(
      10,
      "Seconds",
      "time with all drives at work; the mean is then known to about 2 %",
    ),
    compressible,
    countFlush: countFlush(false, "the flow is what is asked; the flush is shown beside it"),
  },
  program: (
    { direction, everySeconds, block, depth, span, seconds, compressible, countFlush },
    { targets },
  ) => [
    {
      do: "flow",
      targets: Array.from({ length: targets }, (_, i) => i),
      everySeconds,
      writeShare: writeShareOf(direction),
      order: "sequential",
      block,
      depth,
      span,
      seconds,
      leadIn: everySeconds > 0 ? 0 : leadInOf(seconds),
      compressible,
      countFlush: direction === "write" ? countFlush : null,
    },
  ],
  headline: first,
  summary: ({ everySeconds, block, depth, seconds }) =>
    `${everySeconds > 0 ? `one more every ${everySeconds} s` : "all at once"}, ${formatSize(block)} blocks, ${depth} in flight each, ${seconds} s`,
});
