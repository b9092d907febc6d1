import Papa from "papaparse";
import { SIDES, type Claim, PartKind, type PartDraft } from "../chain/part";

/**
 * The shelf as a table, one part a row, for spreadsheets.
 *
 * Modes are separated by spaces. A text that a spreadsheet would take for a formula gets an
 * apostrophe in front, which reading takes off again.
 */
export const COLUMNS = [
  "kind",
  "name",
  "maker",
  "model",
  "tag",
  "notes",
  "modes_up",
  "modes_down",
  "modes_through",
  "own_read_mbps",
  "own_write_mbps",
  "claim_read_mbps",
  "claim_write_mbps",
  "claim_kind",
  "capacity_bytes",
  "price",
  "currency",
] as const;
type Row = Record<(typeof COLUMNS)[number], string>;

const FORMULA = /^['=+\-@\t\r]/;
const guard = (text: string) => (FORMULA.test(text) ? `'${text}` : text);
const unguard = (text: string) => (/^'['=+\-@\t\r]/.test(text) ? text.slice(1) : text);

/** Writes parts as CSV (RFC 4180) with a header row. Of several claims each way the first is kept. */
export function shelfToCsv(parts: readonly PartDraft[]): string {
  const rows = parts.map((part): Row => {
    const modes = (side: string) =>
      part.connectors.find((connector) => connector.side === side)?.modes.join(" ") ?? "";
    const claim = (direction: string) => part.claims.find((c) => c.direction === direction);
    return {
      kind: part.kind,
      name: guard(part.name),
      maker: guard(part.maker),
      model: guard(part.model),
      tag: guard(part.tag),
      notes: guard(part.notes),
      modes_up: modes("up"),
      modes_down: modes("down"),
      modes_through: modes("through"),
      own_read_mbps: text(part.limits.read),
      own_write_mbps: text(part.limits.write),
      claim_read_mbps: text(claim("read")?.mbps),
      claim_write_mbps: text(claim("write")?.mbps),
      claim_kind: part.claims[0]?.kind ?? "",
      capacity_bytes: text(part.capacityBytes),
      price: text(part.price?.amount),
      currency: part.price?.currency ?? "",
    };
  });
  return Papa.unparse(rows, { columns: [...COLUMNS] }) + "\r\n";
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

function fromRow(row: Partial<Row>): unknown {
  const plain = (name: keyof Row) => unguard(row[name] ?? "");
  const kind = PartKind.safeParse(row.kind);
  const claims = (["read", "write"] as const).flatMap((direction) => {
    const mbps = number(row[`claim_${direction}_mbps`]);
    const as = (row.claim_kind || "peak") as Claim["kind"];
    return mbps === undefined ? [] : [{ direction, kind: as, mbps }];
  });
  const amount = number(row.price);
  return {
    kind: row.kind,
    name: plain("name"),
    maker: plain("maker"),
    model: plain("model"),
    tag: plain("tag"),
    notes: plain("notes"),
    connectors: (kind.success ? SIDES[kind.data] : []).map((side) => ({
      side,
      modes: (row[`modes_${side}`] ?? "").split(/\s+/).filter(Boolean),
    })),
    limits: { read: number(row.own_read_mbps), write: number(row.own_write_mbps) },
    claims,
    capacityBytes: number(row.capacity_bytes) ?? null,
    price: amount === undefined ? null : { amount, currency: row.currency },
  };
}
