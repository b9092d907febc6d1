import { z } from "zod";
import { findMode } from "../ledger/catalogue";
import { Direction } from "../units/rate";

/** The kinds of part a rig is made of, in the order they usually stand from host to drive. */
export const PartKind = z.enum(["host-port", "cable", "hub", "adapter", "enclosure", "drive"]);
export type PartKind = z.infer<typeof PartKind>;

export const PART_KIND_NAMES: Record<PartKind, string> = {
  "host-port": "host port",
  cable: "cable",
  hub: "hub",
  adapter: "adapter",
  enclosure: "enclosure",
  drive: "drive",
};

/** Which sides a kind of part has: "up" faces the host, "down" faces the drive. */
export const SIDES: Record<PartKind, readonly ("up" | "down" | "through")[]> = {
  "host-port": ["down"],
  cable: ["through"],
  hub: ["up", "down"],
  adapter: ["up", "down"],
  enclosure: ["up", "down"],
  drive: ["up"],
};

const Text = (max: number) => z.string().trim().max(max, `at most ${max} characters`);

const ModeId = z
  .string()
  .refine((id) => findMode(id) !== null, "not a link mode that Nerrit knows");

/** A connector and every mode it can run; a cable has one entry, for what it carries through. */
export const Connector = z.object({
  side: z.enum(["up", "down", "through"]),
  modes: z.array(ModeId).min(1, "choose at least one mode").max(64),
});
export type Connector = z.infer<typeof Connector>;

/** A rate in MB/s that some real storage path could have. */
export const Rate = z
  .number({ error: "must be a number of MB/s" })
  .positive("must be above 0 MB/s")
  .max(1_000_000, "is beyond any storage link (1 000 000 MB/s)");

/** A rate printed on the box or in the data sheet, per direction. */
export const Claim = z.object({
  direction: Direction,
  kind: z.enum(["peak", "sustained"]),
  mbps: Rate,
});
export type Claim = z.infer<typeof Claim>;

/** What a tester says of a part when entering it. */
export const PartDraft = z
  .object({
    kind: PartKind,
    name: Text(80).min(1, "give the part a name"),
    maker: Text(80).default(""),
    model: Text(80).default(""),
    tag: Text(80).default(""),
    notes: Text(2000).default(""),
    connectors: z.array(Connector),
    /** Rates that the part itself cannot exceed, where known: a drive's native rate, a bridge's limit. */
    limits: z.object({ read: Rate.optional(), write: Rate.optional() }).default({}),
    claims: z.array(Claim).max(8).default([]),
    capacityBytes: z.number().int().positive().max(1e18).nullable().default(null),
    price: z
      .object({
        amount: z.number().nonnegative().max(1e9),
        currency: z.string().regex(/^[A-Z]{3}$/, "three letters, for example EUR"),
      })
      .nullable()
      .default(null),
  })
  .superRefine((part, context) => {
    const wanted = SIDES[part.kind];
    for (const side of wanted) {
      if (part.connectors.filter((c) => c.side === side).length !== 1) {
        context.addIssue({
          code: "custom",
          path: ["connectors"],
          message: `a ${PART_KIND_NAMES[part.kind]} needs the modes of ${SIDE_NAMES[side]}`,
        });
      }
    }
    if (part.connectors.some((c) => !wanted.includes(c.side))) {
      context.addIssue({
        code: "custom",
        path: ["connectors"],
        message: `a ${PART_KIND_NAMES[part.kind]} has only ${wanted.map((s) => SIDE_NAMES[s]).join(" and ")}`,
      });
    }
  });
export type PartDraft = z.infer<typeof PartDraft>;

export const SIDE_NAMES = {
  up: "its side towards the host",
  down: "its side towards the drive",
  through: "its two ends",
} as const;

/** A part on the shelf. */
export type Part = PartDraft & { id: string };

/** The modes a part can run on one side; empty when it has no such side. */
export function modesOn(part: Pick<Part, "connectors">, side: "up" | "down"): readonly string[] {
  const connector = part.connectors.find((c) => c.side === side || c.side === "through");
  return connector?.modes ?? [];
}
