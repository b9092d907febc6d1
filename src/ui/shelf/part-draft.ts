import { SIDES, type Claim, type Part, type PartDraft, type PartKind } from "@/core/chain/part";
import { formatSize, parseSize } from "@/core/units/size";

/** A part as typed into the form: text as it stands, nothing lost while it is wrong. */
export interface TypedPart {
  kind: PartKind;
  name: string;
  maker: string;
  model: string;
  tag: string;
  notes: string;
  modes: { up: string[]; down: string[]; through: string[] };
  ownRead: string;
  ownWrite: string;
  claimRead: string;
  claimWrite: string;
  capacity: string;
  price: string;
  currency: string;
}

export const emptyPart = (kind: PartKind): TypedPart => ({
  kind,
  name: "",
  maker: "",
  model: "",
  tag: "",
  notes: "",
  modes: { up: [], down: [], through: [] },
  ownRead: "",
  ownWrite: "",
  claimRead: "",
  claimWrite: "",
  capacity: "",
  price: "",
  currency: "EUR",
});

const text = (value: number | undefined | null) => String(value ?? "");

/** A size as people write it where that says it exactly, else in bytes. */
function sizeText(bytes: number): string {
  const short = formatSize(bytes, 1000);
  return parseSize(short) === bytes ? short : String(bytes);
}

/** Puts a part of the shelf into the form. */
export function typedFrom(part: Part): TypedPart {
  const modes = (side: "up" | "down" | "through") =>
    part.connectors.find((connector) => connector.side === side)?.modes ?? [];
  const claim = (direction: Claim["direction"]) =>
    part.claims.find((c) => c.direction === direction)?.mbps;
  return {
    kind: part.kind,
    name: part.name,
    maker: part.maker,
    model: part.model,
    tag: part.tag,
    notes: part.notes,
    modes: { up: modes("up"), down: modes("down"), through: modes("through") },
    ownRead: text(part.limits.read),
    ownWrite: text(part.limits.write),
    claimRead: text(claim("read")),
    claimWrite: text(claim("write")),
    capacity: part.capacityBytes === null ? "" : sizeText(part.capacityBytes),
    price: text(part.price?.amount),
    currency: part.price?.currency ?? "EUR",
  };
}

/** A number as typed; text that is none becomes NaN, which the schema refuses. */
const number = (typed: string) => (typed.trim() === "" ? undefined : Number(typed));

function capacity(typed: string): number | null {
  if (typed.trim() === "") return null;
  try {
    return parseSize(typed);
  } catch {
    return NaN;
  }
}

/** What the form says, in the shape the route expects; not yet checked. */
export function draftFrom(typed: TypedPart): PartDraft {
  const claims: Claim[] = (["read", "write"] as const).flatMap((direction) => {
    const mbps = number(direction === "read" ? typed.claimRead : typed.claimWrite);
    return mbps === undefined ? [] : [{ direction, kind: "peak" as const, mbps }];
  });
  const amount = number(typed.price);
  return {
    kind: typed.kind,
    name: typed.name,
    maker: typed.maker,
    model: typed.model,
    tag: typed.tag,
    notes: typed.notes,
    connectors: SIDES[typed.kind].map((side) => ({ side, modes: typed.modes[side] })),
    limits: { read: number(typed.ownRead), write: number(typed.ownWrite) },
    claims,
    capacityBytes: capacity(typed.capacity),
    price: amount === undefined ? null : { amount, currency: typed.currency.toUpperCase() },
  };
}

/** Form fields by the path a schema names them with. */
export function errorsOf(
  typed: TypedPart,
  fields: { path: string; message: string }[],
): Record<string, string> {
  const claimPaths = draftFrom(typed).claims.map(({ direction }) =>
    direction === "read" ? "claimRead" : "claimWrite",
  );
  const names: Record<string, string> = {
    "limits.read": "ownRead",
    "limits.write": "ownWrite",
    capacityBytes: "capacity",
    "price.amount": "price",
    "price.currency": "currency",
  };
  return Object.fromEntries(
    fields.map(({ path, message }) => {
      const claim = /^claims\.(\d+)/.exec(path);
      const connector = /^connectors\.(\d+)/.exec(path);
      if (claim) return [claimPaths[Number(claim[1])] ?? path, message];
      if (connector) return [`modes.${SIDES[typed.kind][Number(connector[1])]}`, message];
      return [names[path] ?? path, message];
    }),
  );
}
