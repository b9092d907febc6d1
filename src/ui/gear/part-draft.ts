import { SIDES, type Connector, type Part, type PartDraft, type PartKind } from "@/core/chain/part";
import type { PhotoRef } from "@/core/chain/photo-ref";
import { readClaims, type ReadClaims } from "@/core/gear/claims/read-claims";
import { writeClaims } from "@/core/gear/claims/write-claims";
import { ownModes } from "@/core/gear/entry";
import { formatSize, sizeIn } from "@/core/units/size";

/** The fields of a part that are typed as plain text. */
const TEXTS = ["name", "maker", "model", "serial", "tag", "chip", "firmware", "notes"] as const;
type Text = (typeof TEXTS)[number];

/** What form and part say in the same words. */
const same = (part: Pick<TypedPart, Text | "kind" | "connectors" | "photos">) => ({
  kind: part.kind,
  photos: part.photos,
  connectors: part.connectors,
  ...(Object.fromEntries(TEXTS.map((name) => [name, part[name]])) as Record<Text, string>),
});

/** A part as typed into the form: text as it stands, nothing lost while it is wrong. */
export interface TypedPart extends Record<Text, string> {
  kind: PartKind;
  connectors: Connector[];
  photos: PhotoRef[];
  length: string;
  ownRead: string;
  ownWrite: string;
  timeRead: string;
  timeWrite: string;
  /** As printed, in one line. */
  claims: string;
  capacity: string;
  cache: string;
  endurance: string;
  price: string;
  currency: string;
}

/** @param currency that of the last price which was typed */
export const emptyPart = (kind: PartKind, currency = "EUR"): TypedPart => ({
  kind,
  name: "",
  maker: "",
  model: "",
  serial: "",
  tag: "",
  chip: "",
  firmware: "",
  notes: "",
  photos: [],
  connectors: SIDES[kind].map((side) => ({ side, modes: [] })),
  length: "",
  ownRead: "",
  ownWrite: "",
  timeRead: "",
  timeWrite: "",
  claims: "",
  capacity: "",
  cache: "",
  endurance: "",
  price: "",
  currency,
});

const text = (value: number | undefined | null) => String(value ?? "");

/** A size as people write it where that says it exactly, else in bytes. */
function sizeText(bytes: number | null, base: 1000 | 1024): string {
  if (bytes === null) return "";
  const short = formatSize(bytes, base);
  return sizeIn(short) === bytes ? short : String(bytes);
}

/** Puts a part of the shelf, or a draft of one, into the form. */
export function typedFrom(part: PartDraft | Part): TypedPart {
  return {
    ...same(part),
    length: text(part.lengthM),
    ownRead: text(part.limits.read),
    ownWrite: text(part.limits.write),
    timeRead: text(part.requestUs.read),
    timeWrite: text(part.requestUs.write),
    claims: writeClaims(part.claims, ownModes(part)),
    capacity: sizeText(part.capacityBytes, 1000),
    cache: sizeText(part.cacheBytes, 1024),
    endurance: sizeText(part.enduranceBytes, 1000),
    price: text(part.price?.amount),
    currency: part.price?.currency ?? "EUR",
  };
}

/** A number as typed; text that is none becomes NaN, which the schema refuses. */
const number = (typed: string) => (typed.trim() === "" ? undefined : Number(typed));

function size(typed: string): number | null {
  if (typed.trim() === "") return null;
  return sizeIn(typed) ?? NaN;
}

/** What the line of claims says, and what of it is not clear. */
export const typedClaims = (typed: Pick<TypedPart, "claims" | "kind" | "connectors">): ReadClaims =>
  readClaims(typed.claims, { kind: typed.kind, modes: ownModes(typed) });

/** What the form says, in the shape the route expects; not yet checked. */
export function draftFrom(typed: TypedPart): PartDraft {
  const amount = number(typed.price);
  return {
    ...same(typed),
    lengthM: number(typed.length) ?? null,
    limits: { read: number(typed.ownRead), write: number(typed.ownWrite) },
    requestUs: { read: number(typed.timeRead), write: number(typed.timeWrite) },
    claims: typedClaims(typed).claims,
    capacityBytes: size(typed.capacity),
    cacheBytes: size(typed.cache),
    enduranceBytes: size(typed.endurance),
    price: amount === undefined ? null : { amount, currency: typed.currency.toUpperCase() },
  };
}

/** Form fields by the path a schema names them with. */
const FIELDS: Record<string, string> = {
  lengthM: "length",
  "limits.read": "ownRead",
  "limits.write": "ownWrite",
  "requestUs.read": "timeRead",
  "requestUs.write": "timeWrite",
  capacityBytes: "capacity",
  cacheBytes: "cache",
  enduranceBytes: "endurance",
  "price.amount": "price",
  "price.currency": "currency",
};

/** What is wrong, by the field of the form it belongs to: "connectors.0", "claims", "name". */
export function errorsOf(fields: { path: string; message: string }[]): Record<string, string> {
  return Object.fromEntries(
    fields.map(({ path, message }) => {
      const item = /^connectors\.\d+/.exec(path)?.[0] ?? /^claims/.exec(path)?.[0];
      return [item ?? FIELDS[path] ?? path, message];
    }),
  );
}
