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

const writeShare: Parameter<number> = {
  label: "Written",
  hint: "share of the requests that write, where both ways are mixed",
  kind: "share",
  schema: z
    .number({ error: "must be a share, for example 30%" })
    .gt(0, "above 0 %")
    .lt(1, "below 100 %"),
  usual: () => ({ value: 0.3, reason: "30 %: about what a working system disk sees" }),
};

const steady: Parameter<boolean> = {
  label: "Until steady",
  hint: "goes on in rounds of the seconds above until five in a row are steady, 25 at most",
  kind: "flag",
  schema: z.boolean({ error: "must be yes or no" }),
  usual: () => ({
    value: false,
    reason: "no: a fresh look; say yes for what a drive gives in the long run",
  }),
};

/** Scatter: random, small blocks. 4 KiB is the page of most systems: what they ask for when they ask for little. */
export const SCATTER = defineDrill({
  name: "scatter",
  title: "Scatter",
  what: "random, small blocks",
  why: "Shows how many small requests a second get through. A waiting program has one in flight, a busy one 24.",
  directions: ["read", "write", "mixed"],
  targets: "one",
  picture: "rate",
  shows: ["iops"],
  everyday: [
    { what: "random, 4 KiB, one at a time", set: { depth: 1 } },
    { what: "random, 4 KiB, 24 in flight", set: {} },
  ],
  repeats: 3,
  parameters: {
    block: block(4096, "the page of most systems"),
    depth: depth(24, "what a busy program keeps going; 1 is what a waiting one feels"),
    writeShare,
    span: span(),
    seconds: seconds(
      10,
      "Seconds",
      "thousands of requests, so that the far end of their times shows too",
    ),
    steady,
    compressible,
    countFlush: countFlush(false, "the requests are what is asked; the flush is shown beside it"),
  },
  program: ({
    direction,
    block,
    depth,
    writeShare,
    span,
    seconds,
    steady,
    compressible,
    countFlush,
  }) => [
    {
      do: "flow",
      writeShare: writeShareOf(direction, writeShare),
      order: "random",
      block,
      depth,
      span,
      seconds: steady ? seconds * 25 : seconds,
      leadIn: leadInOf(seconds),
      compressible,
      countFlush: direction === "read" ? null : countFlush,
      steady: steady ? { roundSeconds: seconds, most: 25 } : null,
    },
  ],
  headline: first,
  summary: ({ block, depth, seconds, span }) =>
    `${formatSize(block)} blocks, ${depth} in flight, ${seconds} s over ${formatSize(span)}`,
});
