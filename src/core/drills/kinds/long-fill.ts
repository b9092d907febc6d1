import * as z from "zod";
import { formatSize } from "../../units/size";
import { defineDrill, first } from "../kind";
import {
  block,
  compressible,
  countFlush,
  depth,
  secondsSchema,
  spanSchema,
  type Parameter,
} from "../parameter";

const MIB = 2 ** 20;

const share: Parameter<number> = {
  label: "Share of the room",
  hint: "how much of the free space, less the reserve, is filled at most",
  kind: "share",
  schema: z
    .number({ error: "must be a share, for example 90%" })
    .gt(0, "above 0 %")
    .max(1, "at most 100 %"),
  usual: () => ({
    value: 0.9,
    reason: "90 %: past any cache that shrinks as the drive fills, and not to the brim",
  }),
};

const size: Parameter<number> = {
  label: "Size",
  hint: "bytes to write at most",
  kind: "size",
  schema: spanSchema,
  usual(facts, set) {
    const part = typeof set.share === "number" ? set.share : 1;
    if (!facts) return { value: 64 * 2 ** 30, reason: "64 GiB: no target is named yet" };
    const value = Math.max(MIB, Math.floor((facts.room * part) / MIB) * MIB);
    return {
      value,
      reason: `${formatSize(value)}: the share above of the ${formatSize(facts.room)} there is room for`,
    };
  },
};

const minutes: Parameter<number> = {
  label: "At most seconds",
  hint: "time to write at most",
  kind: "seconds",
  schema: secondsSchema,
  usual: () => ({
    value: 1800,
    reason: "1800 s: half an hour is past the cache of any drive that a link here can fill",
  }),
};

/** Long fill: sustained writing, without a pause, until a share of the free space, a size or a time. */
export const LONG_FILL = defineDrill({
  name: "long-fill",
  title: "Long fill",
  what: "sequential, sustained writing",
  why: "Writes past the end of the drive’s cache. The rate after it is what a long job gets, and what a claim of sustained speed is judged by.",
  directions: ["write"],
  targets: "one",
  picture: "fill",
  shows: ["sustained"],
  repeats: 1,
  parameters: {
    share,
    size,
    seconds: minutes,
    block: block(MIB, "large enough that requests cost nothing beside the bytes"),
    depth: depth(8, "8 MiB in flight cover the delay of any link in the ledger"),
    compressible,
    countFlush: countFlush(true, "what is not on the medium is not written"),
  },
  program: ({ size, seconds, block, depth, compressible, countFlush }) => [
    {
      do: "flow",
      writeShare: 1,
      order: "sequential",
      block,
      depth,
      span: Math.max(block, Math.floor(size / block) * block),
      seconds,
      bytes: Math.max(block, Math.floor(size / block) * block),
      laidOut: false,
      compressible,
      countFlush,
    },
  ],
  headline: first,
  summary: ({ size, seconds, block, depth }) =>
    `${formatSize(size)} or ${seconds} s, ${formatSize(block)} blocks, ${depth} in flight`,
});
