import * as z from "zod";
import { fitByBlock } from "../../stats/ladder";
import { blockSchema } from "../../units/request";
import { formatSize } from "../../units/size";
import { defineDrill, fastest, iopsOf, writeShareOf } from "../kind";
import { compressible, depth, doublings, seconds, span, type Parameter } from "../parameter";
import { ENOUGH_REQUESTS, leadInOf } from "../../run/program";

const LARGEST = 16 * 2 ** 20;

const blocks: Parameter<number[]> = {
  label: "Blocks",
  hint: "one step for each size",
  kind: "sizes",
  schema: z.array(blockSchema).min(2, "at least two sizes").max(24, "at most 24 sizes"),
  usual(facts) {
    const smallest = facts?.smallestBlock ?? 4096;
    const from = formatSize(smallest);
    return {
      value: doublings(smallest, LARGEST),
      reason: facts?.smallestBlock
        ? `${from}, the smallest request the device takes, to 16 MiB, doubled each time`
        : `${from} to 16 MiB, doubled each time; the system does not say what is the smallest`,
    };
  },
};

/** Stride ladder: throughput by block size, one request at a time unless the tester says otherwise. */
export const STRIDE_LADDER = defineDrill({
  name: "stride-ladder",
  title: "Stride ladder",
  what: "sequential, throughput by block size",
  why: "Separates the time per request from the time per byte: a request takes its overhead, plus its size over the rate.",
  directions: ["read", "write"],
  usualDirection: "read",
  targets: "one",
  picture: "by block",
  shows: [],
  repeats: 1,
  parameters: {
    blocks,
    depth: depth(1, "so that the time of each request is seen by itself"),
    span: span(),
    seconds: seconds(
      2,
      "Seconds a step",
      "hundreds of the largest requests, many thousand small ones",
    ),
    compressible,
  },
  program: ({ direction, blocks, depth, span, seconds, compressible }) =>
    blocks.map((block) => ({
      do: "flow",
      label: { block },
      writeShare: writeShareOf(direction),
      order: "sequential",
      block,
      depth,
      span: Math.max(span, block),
      seconds,
      leastRequests: ENOUGH_REQUESTS,
      leadIn: leadInOf(seconds),
      compressible,
    })),
  headline: fastest,
  fit: (steps) =>
    fitByBlock(steps.map((step) => ({ block: step.label.block!, iops: iopsOf(step) }))),
  summary: ({ blocks, depth, seconds }) =>
    `${formatSize(Math.min(...blocks))} to ${formatSize(Math.max(...blocks))}, ${depth} in flight, ${seconds} s a step`,
});
