import { formatSize } from "../../units/size";
import { defineDrill, first, writeShareOf } from "../kind";
import { block, compressible, countFlush, depth, seconds, span } from "../parameter";
import { leadInOf } from "../../run/program";

/**
 * Haul: sequential, large blocks, deep queue.
 *
 * 512 KiB is where hosts commonly cap one USB storage transfer, so the system does not split the
 * request; 16 of them, 8 MiB in flight, cover the delay of any link the ledger lists. Three repeats
 * are the fewest that give a spread worth showing.
 */
export const HAUL = defineDrill({
  name: "haul",
  title: "Haul",
  what: "sequential, large blocks, deep queue",
  why: "Peak sequential throughput, to compare with the link’s ceiling.",
  directions: ["read", "write"],
  targets: "one",
  picture: "rate",
  shows: ["peak"],
  everyday: [{ what: "sequential, 512 KiB, 16 in flight", set: {} }],
  repeats: 3,
  parameters: {
    block: block(
      512 * 2 ** 10,
      "where hosts commonly cap one USB transfer, so that no request is split",
    ),
    depth: depth(16, "8 MiB in flight cover the delay of any link in the ledger"),
    span: span(),
    seconds: seconds(10, "Seconds", "the mean of a steady drive is then known to about 2 %"),
    compressible,
    countFlush: countFlush(false, "the flow is what is asked; the flush is shown beside it"),
  },
  program: ({ direction, block, depth, span, seconds, compressible, countFlush }) => [
    {
      do: "flow",
      writeShare: writeShareOf(direction),
      order: "sequential",
      block,
      depth,
      span,
      seconds,
      leadIn: leadInOf(seconds),
      compressible,
      countFlush: direction === "write" ? countFlush : null,
    },
  ],
  headline: first,
  summary: ({ block, depth, seconds, span }) =>
    `${formatSize(block)} blocks, ${depth} in flight, ${seconds} s over ${formatSize(span)}`,
});
