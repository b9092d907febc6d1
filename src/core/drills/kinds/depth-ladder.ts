import * as z from "zod";
import { fitByDepth } from "../../stats/ladder";
import { depthSchema } from "../../units/request";
import { formatSize } from "../../units/size";
import { defineDrill, fastest, iopsOf, writeShareOf } from "../kind";
import { block, compressible, doublings, seconds, span, type Parameter } from "../parameter";
import { ENOUGH_REQUESTS, leadInOf } from "../../run/program";

const depths: Parameter<number[]> = {
  label: "In flight",
  hint: "one step for each number",
  kind: "numbers",
  schema: z.array(depthSchema).min(2, "at least two numbers").max(24, "at most 24 numbers"),
  usual: () => ({
    value: doublings(1, 256),
    reason:
      "1 to 256, doubled each time: from a waiting program to more than any link here can queue",
  }),
};

/** Depth ladder: throughput by queue depth, small random blocks. */
export const DEPTH_LADDER = defineDrill({
  name: "depth-ladder",
  title: "Depth ladder",
  what: "random, throughput by queue depth",
  why: "Shows how many requests in flight fill the path, and what it carries then. No rise at all: the driver does not queue.",
  directions: ["read", "write"],
  usualDirection: "read",
  targets: "one",
  picture: "by depth",
  shows: [],
  repeats: 1,
  parameters: {
    depths,
    block: block(4096, "small, so that the link is not what fills up first"),
    span: span(),
    seconds: seconds(2, "Seconds a step", "thousands of requests at each depth"),
    compressible,
  },
  program: ({ direction, depths, block, span, seconds, compressible }) =>
    depths.map((depth) => ({
      do: "flow",
      label: { depth },
      writeShare: writeShareOf(direction),
      order: "random",
      block,
      depth,
      span,
      seconds,
      leastRequests: ENOUGH_REQUESTS,
      leadIn: leadInOf(seconds),
      compressible,
    })),
  headline: fastest,
  fit: (steps) =>
    fitByDepth(steps.map((step) => ({ depth: step.label.depth!, iops: iopsOf(step) }))),
  summary: ({ depths, block, seconds }) =>
    `${Math.min(...depths)} to ${Math.max(...depths)} in flight, ${formatSize(block)} blocks, ${seconds} s a step`,
});
