import * as z from "zod";
import { formatSize } from "../../units/size";
import { defineDrill, together, writeShareOf } from "../kind";
import { block, compressible, depth, seconds, spanSchema, type Parameter } from "../parameter";

const MIB = 2 ** 20;
const GIB = 2 ** 30;

const places: Parameter<number> = {
  label: "Places",
  hint: "spread evenly from the beginning to the end",
  kind: "number",
  schema: z
    .number({ error: "must be a number" })
    .int("must be a whole number")
    .min(2, "at least 2")
    .max(2000, "at most 2000"),
  usual: () => ({
    value: 64,
    reason: "64: enough to see the zones of a disk, and a step between two chips",
  }),
};

const wide: Parameter<number> = {
  label: "Span",
  hint: "how much of the medium is walked over",
  kind: "size",
  schema: spanSchema,
  usual(facts) {
    if (!facts) return { value: GIB, reason: "1 GiB: no target is named yet" };
    const most = facts.kind === "device" ? facts.room : Math.min(facts.room, 16 * GIB);
    const value = Math.max(MIB, Math.floor(most / MIB) * MIB);
    const why =
      facts.kind === "device"
        ? "the whole device, which is only read"
        : value === 16 * GIB
          ? "a file that large has to be written first; name the device to read all of it"
          : "all that fits beside the reserve";
    return { value, reason: `${formatSize(value)}: ${why}` };
  },
};

/** Traverse: rate by position on the medium. */
export const TRAVERSE = defineDrill({
  name: "traverse",
  title: "Traverse",
  what: "sequential, rate by position on the medium",
  why: "Shows whether the rate depends on the position: the zones of a disk, slowly written data, a bad stretch.",
  directions: ["read", "write"],
  usualDirection: "read",
  targets: "one",
  picture: "position",
  shows: [],
  repeats: 1,
  parameters: {
    places,
    span: wide,
    seconds: seconds(0.5, "Seconds a place", "long enough for a disk to find the place and settle"),
    block: block(MIB, "large enough that requests cost nothing beside the bytes"),
    depth: depth(4, "keeps the drive busy from one request to the next"),
    compressible,
  },
  program({ direction, places, span, seconds, block, depth, compressible }) {
    // Whole blocks, so that every place begins where a request may.
    const stretch = Math.max(block, Math.floor(span / places / block) * block);
    const many = Math.max(1, Math.min(places, Math.floor(span / stretch)));
    return Array.from({ length: many }, (_, i) => ({
      do: "flow" as const,
      label: { position: i * stretch },
      writeShare: writeShareOf(direction),
      order: "sequential" as const,
      block,
      depth,
      first: i * stretch,
      span: stretch,
      seconds,
      leadIn: Math.min(0.1, seconds / 4),
      compressible,
    }));
  },
  headline: together,
  summary: ({ places, span, seconds }) =>
    `${places} places over ${formatSize(span)}, ${seconds} s each`,
});
