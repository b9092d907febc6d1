import { z } from "zod";
import { Direction } from "../units/rate";

/** A rate in MB/s that some real storage path could have. */
export const Rate = z
  .number({ error: "must be a number of MB/s" })
  .positive("must be above 0 MB/s")
  .max(1_000_000, "is beyond any storage link (1 000 000 MB/s)");

/** A throughput printed on the box or in the data sheet, per direction. */
const RateClaim = z.object({
  kind: z.enum(["peak", "sustained"]),
  direction: Direction,
  mbps: Rate,
});
export type RateClaim = z.infer<typeof RateClaim>;

/** A claim as printed: a throughput, the class of the link, or small requests a second. */
export const Claim = z.discriminatedUnion("kind", [
  RateClaim,
  z.object({
    kind: z.literal("link"),
    gbps: z
      .number({ error: "must be a number of Gb/s" })
      .positive("must be above 0 Gb/s")
      .max(10_000, "is beyond any link"),
  }),
  z.object({
    kind: z.literal("iops"),
    direction: Direction,
    iops: z
      .number({ error: "must be a number of requests a second" })
      .positive("must be above 0")
      .max(1e9, "is beyond any drive"),
  }),
]);
export type Claim = z.infer<typeof Claim>;

/** Whether a claim is one of throughput. */
export const isRateClaim = (claim: Claim): claim is RateClaim =>
  claim.kind === "peak" || claim.kind === "sustained";

/** The claims of throughput in one direction. */
export const rateClaims = (claims: readonly Claim[], direction: Direction): RateClaim[] =>
  claims.filter(isRateClaim).filter((claim) => claim.direction === direction);
