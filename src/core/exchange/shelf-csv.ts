import Papa from "papaparse";
import { claimFrom, claimText, isFirstOfKind, isPlain } from "./claim-text";
import { rateClaims, type Claim } from "../chain/claim";
import { SIDES, type Connector, PartKind, type PartDraft } from "../chain/part";

/**
 * The shelf as a table, one part a row, for spreadsheets.
 *
 * Modes are separated by spaces, connectors of one side by "|"; a connector's shape stands before its
 * modes with a colon, of a cable both ends ("usb-c>usb-a: usb-480m usb-5g"). A text that a
 * spreadsheet would take for a formula gets an apostrophe in front, which reading takes off again.
 */
export const COLUMNS = [
  "kind",
  "name",
  "maker",
  "model",
  "serial",
  "tag",
  "chip",
  "firmware",
  "length_m",
  "notes",
  "modes_up",
  "modes_down",
  "modes_through",
  "own_read_mbps",
  "own_write_mbps",
  "own_read_us",
  "own_write_us",
  "claim_read_mbps",
  "claim_write_mbps",
  "claim_sustained_read_mbps",
  "claim_sustained_write_mbps",
  "claim_link_gbps",
  "claim_read_iops",
  "claim_write_iops",
  "further_claims",
  "capacity_bytes",
  "cache_bytes",
  "endurance_bytes",
  "price",
  "currency",
] as const;
type Row = Record<(typeof COLUMNS)[number], string>;

const FORMULA = /^['=+\-@\t\r]/;
const guard = (text: string) => (FORMULA.test(text) ? `'${text}` : text);
const unguard = (text: string) => (/^'['=+\-@\t\r]/.test(text) ? text.slice(1) : text);

/**
 * Writes parts as CSV (RFC 4180) with a header row. Claims that no column of their own says in full stand
 * in `further_claims`.
 */
export function shelfToCsv(parts: readonly PartDraft[]): string {
  const rows = parts.map((part): Row => {
    const modes = (side: Connector["side"]) =>
      part.connectors
        .filter((connector) => connector.side === side)
        .map(connectorText)
        .join(" | ");
    const plain = part.claims.filter(isPlain).filter(isFirstOfKind);
    const further = part.claims.filter((claim) => !plain.includes(claim));
    const rate = (kind: "peak" | "sustained", direction: "read" | "write") =>
      text(rateClaims(plain, direction).find((claim) => claim.kind === kind)?.mbps);
    const iops = (direction: "read" | "write") =>
      text(plain.filter((c) => c.kind === "iops").find((c) => c.direction === direction)?.iops);
    return {
      kind: part.kind,
      name: guard(part.name),
      maker: guard(part.maker),
      model: guard(part.model),
      serial: guard(part.serial),
      tag: guard(part.tag),
      chip: guard(part.chip),
      firmware: guard(part.firmware),
      length_m: text(part.lengthM),
      notes: guard(part.notes),
      modes_up: modes("up"),
      modes_down: modes("down"),
      modes_through: modes("through"),
      own_read_mbps: text(part.limits.read),
      own_write_mbps: text(part.limits.write),
      own_read_us: text(part.requestUs.read),
      own_write_us: text(part.requestUs.write),
      claim_read_mbps: rate("peak", "read"),
      claim_write_mbps: rate("peak", "write"),
      claim_sustained_read_mbps: rate("sustained", "read"),
      claim_sustained_write_mbps: rate("sustained", "write"),
      claim_link_gbps: text(plain.find((c) => c.kind === "link")?.gbps),
      claim_read_iops: iops("read"),
      claim_write_iops: iops("write"),
      further_claims: further.map(claimText).join(" | "),
      capacity_bytes: text(part.capacityBytes),
      cache_bytes: text(part.cacheBytes),
      endurance_bytes: text(part.enduranceBytes),
      price: text(part.price?.amount),
      currency: part.price?.currency ?? "",
    };
  });
  return Papa.unparse(rows, { columns: [...COLUMNS] }) + "\r\n";
}

function connectorText({ modes, shape, farShape }: Connector): string {
  const shapes = [shape, farShape]
    .map((s) => s ?? "")
    .join(">")
    .replace(/>$/, "");
  return [shapes && `${shapes}:`, ...modes].filter(Boolean).join(" ");
}

function connectorsOf(side: Connector["side"], cell: string): unknown[] {
  return cell
    .split("|")
    .filter((text) => text.trim())
    .map((text) => {
      const words = text.trim().split(/\s+/);
      const shapes = words[0]!.endsWith(":") ? words.shift()!.slice(0, -1).split(">") : [];
      const [shape, farShape] = shapes.map((name) => name || undefined);
      return { side, modes: words, shape, farShape };
    });
}

/**
 * Reads such a table. What it says is not checked here: the result goes through the schema.
 *
 * @throws RangeError where the text is no table with the columns `kind` and `name`
 */
export function csvToParts(csv: string): unknown[] {
  const { data, meta } = Papa.parse<Partial<Row>>(csv.replace(/^\uFEFF/, ""), {
    header: true,
    skipEmptyLines: "greedy",
  });
  if (!meta.fields?.includes("kind") || !meta.fields.includes("name")) {
    throw new RangeError('The table needs a header row with at least "kind" and "name".');
  }
  return data.map(fromRow);
}

const text = (value: number | null | undefined) => String(value ?? "");
const number = (cell: string | undefined) => (cell?.trim() ? Number(cell) : undefined);

/** A claim that the row makes; none where its figure is empty. */
const claim = (made: { kind: Claim["kind"] } & Record<string, unknown>) =>
  Object.values(made).includes(undefined) ? [] : [made];

function fromRow(row: Partial<Row>): unknown {
  const plain = (name: keyof Row) => unguard(row[name] ?? "");
  const kind = PartKind.safeParse(row.kind);
  const claims = (["read", "write"] as const).flatMap((direction) => [
    ...claim({ kind: "peak", direction, mbps: number(row[`claim_${direction}_mbps`]) }),
    ...claim({
      kind: "sustained",
      direction,
      mbps: number(row[`claim_sustained_${direction}_mbps`]),
    }),
    ...claim({ kind: "iops", direction, iops: number(row[`claim_${direction}_iops`]) }),
  ]);
  claims.push(...claim({ kind: "link", gbps: number(row.claim_link_gbps) }));
  const further = (row.further_claims ?? "").split("|").filter((text) => text.trim());
  const amount = number(row.price);
  return {
    kind: row.kind,
    name: plain("name"),
    maker: plain("maker"),
    model: plain("model"),
    serial: plain("serial"),
    tag: plain("tag"),
    chip: plain("chip"),
    firmware: plain("firmware"),
    lengthM: number(row.length_m) ?? null,
    notes: plain("notes"),
    connectors: (kind.success ? SIDES[kind.data] : []).flatMap((side) =>
      connectorsOf(side, row[`modes_${side}`] ?? ""),
    ),
    limits: { read: number(row.own_read_mbps), write: number(row.own_write_mbps) },
    requestUs: { read: number(row.own_read_us), write: number(row.own_write_us) },
    claims: [...claims, ...further.map(claimFrom)],
    capacityBytes: number(row.capacity_bytes) ?? null,
    cacheBytes: number(row.cache_bytes) ?? null,
    enduranceBytes: number(row.endurance_bytes) ?? null,
    price: amount === undefined ? null : { amount, currency: row.currency },
  };
}
