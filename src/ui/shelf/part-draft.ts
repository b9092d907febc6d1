import type { Claim } from "@/core/chain/claim";
import { SIDES, type Connector, type Part, type PartDraft, type PartKind } from "@/core/chain/part";
import { formatSize, parseSize, sizeIn } from "@/core/units/size";

/** A claim as typed. */
export interface TypedClaim {
  kind: Claim["kind"];
  direction: "read" | "write";
  value: string;
  /** What it is printed for, where anything is: a link, a size, a number in flight. */
  over: string;
  block: string;
  depth: string;
}

/** The fields of a part that are typed as plain text. */
const TEXTS = ["name", "maker", "model", "serial", "tag", "notes"] as const;
type Text = (typeof TEXTS)[number];

/** What form and part say in the same words. */
const same = (part: Pick<TypedPart, Text | "kind" | "connectors">) => ({
  kind: part.kind,
  connectors: part.connectors,
  ...(Object.fromEntries(TEXTS.map((name) => [name, part[name]])) as Record<Text, string>),
});

/** A part as typed into the form: text as it stands, nothing lost while it is wrong. */
export interface TypedPart extends Record<Text, string> {
  kind: PartKind;
  connectors: Connector[];
  ownRead: string;
  ownWrite: string;
  timeRead: string;
  timeWrite: string;
  claims: TypedClaim[];
  capacity: string;
  cache: string;
  price: string;
  currency: string;
}

export const emptyPart = (kind: PartKind): TypedPart => ({
  kind,
  name: "",
  maker: "",
  model: "",
  serial: "",
  tag: "",
  notes: "",
  connectors: SIDES[kind].map((side) => ({ side, modes: [] })),
  ownRead: "",
  ownWrite: "",
  timeRead: "",
  timeWrite: "",
  claims: [],
  capacity: "",
  cache: "",
  price: "",
  currency: "EUR",
});

const text = (value: number | undefined | null) => String(value ?? "");

/** A size as people write it where that says it exactly, else in bytes. */
function sizeText(bytes: number | null, base: 1000 | 1024): string {
  if (bytes === null) return "";
  const short = formatSize(bytes, base);
  return parseSize(short) === bytes ? short : String(bytes);
}

function typedClaim(claim: Claim): TypedClaim {
  const { kind } = claim;
  if (kind === "link")
    return { kind, direction: "read", value: text(claim.gbps), over: "", block: "", depth: "" };
  const { direction, over = "", block = null, depth } = claim;
  const value = text(kind === "iops" ? claim.iops : claim.mbps);
  return { kind, direction, value, over, block: sizeText(block, 1024), depth: text(depth) };
}

/** Puts a part of the shelf, or a draft of one, into the form. */
export function typedFrom(part: PartDraft | Part): TypedPart {
  return {
    ...same(part),
    ownRead: text(part.limits.read),
    ownWrite: text(part.limits.write),
    timeRead: text(part.requestUs.read),
    timeWrite: text(part.requestUs.write),
    claims: part.claims.map(typedClaim),
    capacity: sizeText(part.capacityBytes, 1000),
    cache: sizeText(part.cacheBytes, 1024),
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

function draftClaim({ kind, direction, value, ...printed }: TypedClaim): Claim {
  const figure = number(value) ?? NaN;
  if (kind === "link") return { kind, gbps: figure };
  const over = printed.over || undefined;
  const block = size(printed.block) ?? undefined;
  const meant = { direction, over, block, depth: number(printed.depth) };
  return kind === "iops" ? { kind, ...meant, iops: figure } : { kind, ...meant, mbps: figure };
}

/** What the form says, in the shape the route expects; not yet checked. */
export function draftFrom(typed: TypedPart): PartDraft {
  const amount = number(typed.price);
  return {
    ...same(typed),
    limits: { read: number(typed.ownRead), write: number(typed.ownWrite) },
    requestUs: { read: number(typed.timeRead), write: number(typed.timeWrite) },
    claims: typed.claims.map(draftClaim),
    capacityBytes: size(typed.capacity),
    cacheBytes: size(typed.cache),
    price: amount === undefined ? null : { amount, currency: typed.currency.toUpperCase() },
  };
}

/** Form fields by the path a schema names them with. */
const FIELDS: Record<string, string> = {
  "limits.read": "ownRead",
  "limits.write": "ownWrite",
  "requestUs.read": "timeRead",
  "requestUs.write": "timeWrite",
  capacityBytes: "capacity",
  cacheBytes: "cache",
  "price.amount": "price",
  "price.currency": "currency",
};

/** What is wrong, by the field of the form it belongs to: "connectors.0", "claims.1", "name". */
export function errorsOf(fields: { path: string; message: string }[]): Record<string, string> {
  return Object.fromEntries(
    fields.map(({ path, message }) => {
      const item = /^(?:claims|connectors)\.\d+/.exec(path);
      return [item?.[0] ?? FIELDS[path] ?? path, message];
    }),
  );
}
