import * as z from "zod";

/**
 * One way a link can run, as data. Everything the ledger says about a mode is computed from its
 * entry; a new mode is a new entry and nothing else.
 */

/** Why a figure is what it is. */
export const Basis = z.enum(["standard", "assumption", "experience"]);
export type Basis = z.infer<typeof Basis>;

export const LineCodeId = z.enum([
  "none",
  "nrzi",
  "8b/10b",
  "64b/66b",
  "128b/130b",
  "128b/132b",
  "128b/150b",
  "11b/7t",
]);
export type LineCodeId = z.infer<typeof LineCodeId>;

/** A byte count that is fixed, or that follows an assumption the tester may change. */
export const ByteCount = z.union([
  z.number().positive(),
  z.object({ assumption: z.string(), less: z.number().nonnegative().default(0) }),
]);
export type ByteCount = z.infer<typeof ByteCount>;

/**
 * One step of framing:
 * - packet: each payload carries fixed overhead bytes
 * - periodic: out of every `outOf` units the link spends `lost` on itself
 * - slots: at most `packets` payloads fit into each period, whatever the line rate
 */
const PLAIN_STEPS = [
  z.object({
    kind: z.literal("packet"),
    what: z.string(),
    payload: ByteCount,
    overhead: z.array(z.object({ what: z.string(), bytes: z.number().nonnegative() })).min(1),
    source: z.string(),
    basis: Basis,
  }),
  z.object({
    kind: z.literal("periodic"),
    what: z.string(),
    lost: z.number().positive(),
    outOf: z.number().positive(),
    source: z.string(),
    basis: Basis,
  }),
  z.object({
    kind: z.literal("slots"),
    what: z.string(),
    packets: z.number().int().positive(),
    payload: z.number().positive(),
    periodSeconds: z.number().positive(),
    source: z.string(),
    basis: Basis,
  }),
] as const;

/** Values of a link that the tester may change, by name. */
const Assumptions = z.record(
  z.string(),
  z.object({
    label: z.string(),
    unit: z.string(),
    options: z.array(z.number()).min(1),
    standard: z.number(),
    note: z.string(),
  }),
);

/** The part of a mode that its line rate and framing follow from. */
const Carrier = z.object({
  name: z.string(),
  /** Transfers per second on one lane, in one direction, in 10^9/s. */
  gigatransfers: z.number().positive(),
  lanes: z.number().int().positive(),
  lineCode: LineCodeId,
  framing: z.array(z.discriminatedUnion("kind", PLAIN_STEPS)),
  assumptions: Assumptions.default({}),
});
export type Carrier = z.infer<typeof Carrier>;

/** A plain step, or a link carried inside this one, which takes no more than its own hard ceiling. */
export const FramingStep = z.discriminatedUnion("kind", [
  ...PLAIN_STEPS,
  z.object({
    kind: z.literal("tunnelled"),
    what: z.string(),
    inner: Carrier,
    source: z.string(),
    basis: Basis,
  }),
]);
export type FramingStep = z.infer<typeof FramingStep>;

/** Kinds of link, as a tester looks for them. */
export const FamilyId = z.enum([
  "usb",
  "usb4",
  "thunderbolt",
  "pcie",
  "card",
  "sata",
  "sas",
  "pata",
  "ieee-1394",
  "sd",
  "ethernet",
  "stated",
  "own",
]);
export type FamilyId = z.infer<typeof FamilyId>;

/** Command protocols that can run over a link. Queued ones keep several requests in flight. */
export const TransportId = z.enum([
  "usb-queued",
  "usb-unqueued",
  "nvme",
  "ahci",
  "legacy-ata",
  "scsi",
  "sd-card",
  "network-file",
  "stated",
]);
export type TransportId = z.infer<typeof TransportId>;

/** Share of the hard ceiling that ordinary good hardware reaches, [low, high], each in (0, 1]. */
const Share = z
  .tuple([z.number().positive().max(1), z.number().positive().max(1)])
  .refine(([low, high]) => low <= high, "low end above high end");

export const TransportBand = z.object({
  id: TransportId,
  read: Share,
  write: Share,
  source: z.string(),
});

export const LinkMode = Carrier.extend({
  id: z.string(),
  /** What the standard calls it. */
  formal: z.string(),
  /** As said in a sentence: "10 Gb/s". */
  short: z.string(),
  family: FamilyId,
  year: z.number().int().optional(),
  signallingSource: z.string(),
  /** Lanes where the two directions have different numbers of them. */
  lanesByDirection: z
    .object({ read: z.number().int().positive(), write: z.number().int().positive() })
    .optional(),
  duplex: z.enum(["full", "half"]),
  /** Whether several devices share the medium. */
  shared: z.boolean(),
  framing: z.array(FramingStep),
  transports: z.array(TransportBand).min(1),
});
export type LinkMode = z.infer<typeof LinkMode>;
