import * as z from "zod";
import { formatSize } from "../../units/size";
import { defineDrill, first } from "../kind";
import { block, cacheInWords, compressible, depth, spanSchema, type Parameter } from "../parameter";

const MIB = 2 ** 20;
const GIB = 2 ** 30;

const fill: Parameter<number> = {
  label: "Fill",
  hint: "bytes written each time, over the same place",
  kind: "size",
  schema: spanSchema,
  usual(facts) {
    const cache = facts?.cache ?? null;
    const wanted = cache ? Math.ceil((cache.bytes * 1.5) / MIB) * MIB : 32 * GIB;
    if (facts && facts.room < wanted) {
      const value = Math.max(MIB, Math.floor(facts.room / MIB) * MIB);
      return { value, reason: `${formatSize(value)}: all that fits beside the reserve` };
    }
    return {
      value: wanted,
      reason: cache
        ? `${formatSize(wanted)}: half as much again as ${cacheInWords(cache)}, so that its edge shows`
        : `${formatSize(wanted)}: past the write cache of most drives; yours is not known`,
    };
  },
};

const rests: Parameter<number[]> = {
  label: "Rests",
  hint: "seconds of idleness before each further fill",
  kind: "numbers",
  schema: z
    .array(
      z.number({ error: "must be seconds" }).min(0, "not negative").max(86_400, "at most a day"),
    )
    .min(1, "at least one rest")
    .max(12, "at most twelve"),
  usual: () => ({
    value: [30, 120, 600],
    reason: "30, 120, 600 s: drives clear their cache within seconds to minutes",
  }),
};

/** Rest and return: fill to the cache edge, idle, fill again: how much of the fast part is back. */
export const REST_AND_RETURN = defineDrill({
  name: "rest-and-return",
  title: "Rest and return",
  what: "sequential writing, with idle times between",
  why: "Shows how long a drive has to rest until its cache is clear again.",
  directions: ["write"],
  targets: "one",
  picture: "steps",
  goesOn: true,
  shows: [],
  repeats: 1,
  parameters: {
    fill,
    rests,
    block: block(MIB, "large enough that requests cost nothing beside the bytes"),
    depth: depth(8, "8 MiB in flight cover the delay of any link in the ledger"),
    compressible,
  },
  program({ fill, rests, block, depth, compressible }) {
    const span = Math.max(block, Math.floor(fill / block) * block);
    const once = (restSeconds: number, laidOut: boolean) => ({
      do: "flow" as const,
      label: { restSeconds },
      writeShare: 1,
      order: "sequential" as const,
      block,
      depth,
      span,
      bytes: span,
      laidOut,
      compressible,
      countFlush: false,
    });
    return [
      once(0, false),
      ...rests.flatMap((restSeconds) => [
        { do: "rest" as const, label: { restSeconds }, seconds: restSeconds },
        // The place was written by the fill before, so nothing has to be laid out.
        once(restSeconds, false),
      ]),
    ];
  },
  headline: first,
  summary: ({ fill, rests }) => `${formatSize(fill)} each time, rests of ${rests.join(", ")} s`,
});
