import * as z from "zod";
import { findMode } from "../ledger/catalogue";
import { line, lines } from "../units/text";
import { Claim, Rate } from "./claim";
import { PhotoRefs } from "./photo-ref";
import { carries, Shape, SHAPES } from "./shape";

/** The kinds of part a rig is made of, in the order they usually stand from host to drive. */
export const PartKind = z.enum([
  "host-port",
  "cable",
  "hub",
  "adapter",
  "enclosure",
  "network-box",
  "drive",
]);
export type PartKind = z.infer<typeof PartKind>;

export const PART_KIND_NAMES: Record<PartKind, string> = {
  "host-port": "host port",
  cable: "cable",
  hub: "hub",
  adapter: "adapter",
  enclosure: "enclosure",
  "network-box": "NAS or router",
  drive: "drive",
};

/** Which sides a kind of part has: "up" faces the host, "down" faces the drive. */
export const SIDES: Record<PartKind, readonly ("up" | "down" | "through")[]> = {
  "host-port": ["down"],
  cable: ["through"],
  hub: ["up", "down"],
  adapter: ["up", "down"],
  enclosure: ["up", "down"],
  "network-box": ["up", "down"],
  drive: ["up"],
};

const ModeId = z
  .string()
  .refine((id) => findMode(id) !== null, "not a link mode that Nerrit knows");

/** A connector and every mode it can run; a cable has one entry, for what it carries through. */
export const Connector = z
  .object({
    side: z.enum(["up", "down", "through"]),
    modes: z.array(ModeId).min(1, "choose at least one mode").max(64),
    /** Its shape, where that is said; of a cable, the end towards the host. */
    shape: Shape.optional(),
    /** Of a cable, the end towards the drive. */
    farShape: Shape.optional(),
  })
  .superRefine(({ modes, shape, farShape }, context) => {
    for (const form of [shape, farShape]) {
      const odd = form && modes.map(findMode).find((mode) => mode && !carries(form, mode.family));
      if (!form || !odd) continue;
      context.addIssue({
        code: "custom",
        path: ["modes"],
        message: `a connector cannot be ${SHAPES[form].name} and run ${odd.name}`,
      });
    }
  });
export type Connector = z.infer<typeof Connector>;

const Microseconds = z
  .number({ error: "must be a number of microseconds" })
  .positive("must be above 0")
  .max(60e6, "is more than a minute");

/** What a tester says of a part when entering it. */
export const PartDraft = z
  .object({
    kind: PartKind,
    name: line(80).min(1, "give the part a name"),
    maker: line(80).default(""),
    model: line(80).default(""),
    /** As printed on it and as the system reports it; how a part is known again. */
    serial: line(80).default(""),
    tag: line(80).default(""),
    /** The bridge or controller inside, where it is known, and the firmware that it runs. */
    chip: line(80).default(""),
    firmware: line(80).default(""),
    /** Of a cable, in metres. */
    lengthM: z
      .number({ error: "must be a number of metres" })
      .positive("must be above 0 m")
      .max(10_000, "is longer than 10 km")
      .nullable()
      .default(null),
    notes: lines(2000).default(""),
    photos: PhotoRefs,
    connectors: z.array(Connector).max(16, "at most 16 connectors"),
    /** Rates that the part itself cannot exceed, where known: a drive's native rate, a bridge's limit. */
    limits: z.object({ read: Rate.optional(), write: Rate.optional() }).default({}),
    /** A drive's own time for one small request, microseconds, where known. */
    requestUs: z
      .object({ read: Microseconds.optional(), write: Microseconds.optional() })
      .default({}),
    claims: z.array(Claim).max(16, "at most 16 claims").default([]),
    capacityBytes: z.number().int().positive().max(1e18).nullable().default(null),
    /** How many bytes may be written to a drive by its data sheet, where that is printed. */
    enduranceBytes: z.number().int().positive().max(1e18).nullable().default(null),
    /** The fast part of a drive that takes writes first, where known. */
    cacheBytes: z.number().int().positive().max(1e18).nullable().default(null),
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
      const there = part.connectors.filter((c) => c.side === side).length;
      if (there === 0 || (side === "through" && there > 1)) {
        context.addIssue({
          code: "custom",
          path: ["connectors"],
          message: `a ${PART_KIND_NAMES[part.kind]} needs the modes of ${SIDE_NAMES[side]}${there > 1 ? ", once" : ""}`,
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
/** A part as written in data, with what it leaves out still to be filled in. */
export type PartInput = z.input<typeof PartDraft>;

export const SIDE_NAMES = {
  up: "its side towards the host",
  down: "its side towards the drive",
  through: "its two ends",
} as const;

/** A part on the shelf. */
export type Part = PartDraft & { id: string };

const keys = new WeakMap<Pick<Part, "connectors" | "limits">, string>();

/** The same for two parts that behave alike in any chain, whatever they are called. */
export function behaviourOf(part: Pick<Part, "kind" | "connectors" | "limits">): string {
  const known = keys.get(part);
  if (known) return known;
  const key = JSON.stringify([part.kind, part.connectors, part.limits]);
  keys.set(part, key);
  return key;
}

/** The connectors of one side of a part; a cable's carry through. */
export const connectorsOn = (
  part: Pick<Part, "connectors">,
  side: "up" | "down",
): readonly Connector[] => part.connectors.filter((c) => c.side === side || c.side === "through");

/** The modes a part can run on one side, on any of its connectors; empty when it has no such side. */
export function modesOn(part: Pick<Part, "connectors">, side: "up" | "down"): readonly string[] {
  const known = modes.get(part.connectors) ?? {};
  modes.set(part.connectors, known);
  return (known[side] ??= [
    ...new Set(connectorsOn(part, side).flatMap((connector) => connector.modes)),
  ]);
}

/** Asked for again and again of the same parts. */
const modes = new WeakMap<Part["connectors"], Partial<Record<"up" | "down", readonly string[]>>>();
