import * as z from "zod";
import { formatNumber, IN_MB } from "../units/number";
import { Direction, DOING } from "../units/rate";

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

/** The request that a claim of small requests a second is taken to mean, where it says none. */
export const SMALL_REQUEST = 4096;

/** A claim that runs can be held against: as a rate, and how it was printed. */
export interface JudgedClaim {
  kind: "peak" | "sustained" | "iops";
  direction: Direction;
  mbps: number;
}

/**
 * The claims of one direction that runs can be held against.
 */
export const judgedClaims = (claims: readonly Claim[], direction: Direction): JudgedClaim[] =>
  claims.flatMap((claim) => {
    if (claim.kind === "link" || claim.direction !== direction) return [];
    const mbps = claim.kind === "iops" ? (claim.iops * SMALL_REQUEST) / 1e6 : claim.mbps;
    return [{ kind: claim.kind, direction, mbps }];
  });

/** A rate in the words of a claim: "935 MB/s", or "12 400 requests a second". */
export const inClaimsWords = (
  { kind }: Pick<JudgedClaim, "kind">,
  mbps: number,
  rates = IN_MB,
): string =>
  kind === "iops"
    ? `${formatNumber((mbps * 1e6) / SMALL_REQUEST)} requests a second`
    : rates.said(mbps);

/** A claim as printed, in words: "peak 1 000 MB/s reading", "a 10 Gb/s link". */
export function claimWords(claim: Claim, rates = IN_MB): string {
  if (claim.kind === "link") return `a ${formatNumber(claim.gbps)} Gb/s link`;
  const figure =
    claim.kind === "iops"
      ? `${formatNumber(claim.iops)} requests a second`
      : `${claim.kind} ${rates.said(claim.mbps)}`;
  return `${figure} ${DOING[claim.direction]}`;
}
