import * as z from "zod";
import { findMode } from "../ledger/catalogue";
import { FAMILY_NAMES } from "../ledger/families";
import { FamilyId, type LinkMode } from "../ledger/mode";
import { formatNumber, IN_MB, plainNumber } from "../units/number";
import { Direction, DOING } from "../units/rate";
import { blockSchema, depthSchema } from "../units/request";
import { formatSize } from "../units/size";

/** A rate in MB/s that some real storage path could have. */
export const Rate = z
  .number({ error: "must be a number of MB/s" })
  .positive("must be above 0 MB/s")
  .max(1_000_000, "is beyond any storage link (1 000 000 MB/s)");

/** What a claim may say it holds for, where that is printed. */
const Printed = z.object({
  /** The link of the part: a family of links ("usb", "thunderbolt"), or one mode by its id. */
  over: z
    .string()
    .refine(
      (id) => FamilyId.safeParse(id).success || findMode(id) !== null,
      "not a link that Nerrit knows",
    )
    .optional(),
  /** Bytes of one request, and requests in flight. */
  block: blockSchema.optional(),
  depth: depthSchema.optional(),
});
type Printed = z.infer<typeof Printed>;

/** A throughput printed on the box or in the data sheet, per direction. */
const RateClaim = Printed.extend({
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
  Printed.extend({
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
export interface JudgedClaim extends Printed {
  kind: "peak" | "sustained" | "iops";
  direction: Direction;
  mbps: number;
}

/** The claims of one direction that runs can be held against. */
export const judgedClaims = (claims: readonly Claim[], direction: Direction): JudgedClaim[] =>
  claims.flatMap((claim) => {
    if (claim.kind === "link" || claim.direction !== direction) return [];
    const { kind, over, block, depth } = claim;
    const mbps = kind === "iops" ? (claim.iops * requestOf(claim)) / 1e6 : claim.mbps;
    return [{ kind, direction, mbps, over, block, depth }];
  });

/** Bytes of the requests that a claim of requests a second means. */
export const requestOf = ({ block }: Pick<Printed, "block">): number => block ?? SMALL_REQUEST;

/** Whether a link is one that a claim holds for; one that says none holds for all. */
export const holdsOver = ({ over }: Pick<Printed, "over">, mode: LinkMode | null): boolean =>
  over === undefined || (mode !== null && (mode.id === over || mode.family === over));

/** The link that a claim names, in words. */
export const overName = (over: string): string =>
  FAMILY_NAMES[over as FamilyId] ?? findMode(over)?.name ?? over;

/** What a claim says it holds for, in words: " over USB, by 4 KiB, 32 in flight"; empty where nothing is said. */
export const printedWords = ({ over, block, depth }: Printed): string => {
  const requests = [
    ...(block === undefined ? [] : [`by ${formatSize(block)}`]),
    ...(depth === undefined ? [] : [`${depth} in flight`]),
  ];
  const link = over === undefined ? [] : [`over ${overName(over)}`];
  const all = [...link, ...requests];
  return all.length > 0 ? ` ${all.join(", ")}` : "";
};

/** A rate in the words of a claim: "935 MB/s", or "12 400 requests a second". */
export const inClaimsWords = (
  { kind, block }: Pick<JudgedClaim, "kind" | "block">,
  mbps: number,
  rates = IN_MB,
): string =>
  kind === "iops"
    ? `${formatNumber((mbps * 1e6) / requestOf({ block }))} requests a second`
    : rates.said(mbps);

/** A claim as printed, in words: "peak 1 000 MB/s reading over USB", "a 10 Gb/s link". */
export function claimWords(claim: Claim, rates = IN_MB): string {
  if (claim.kind === "link") return `a ${plainNumber(claim.gbps)} Gb/s link`;
  const figure =
    claim.kind === "iops"
      ? `${formatNumber(claim.iops)} requests a second`
      : `${claim.kind} ${rates.said(claim.mbps)}`;
  return `${figure} ${DOING[claim.direction]}${printedWords(claim)}`;
}
