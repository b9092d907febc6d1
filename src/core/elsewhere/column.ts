import * as z from "zod";
import { DRILLS, drillNamed } from "../drills/catalogue";
import { DrillDirectionSchema } from "../drills/drill";
import type { DrillDirection, DrillKind } from "../drills/kind";
import { blockSchema, depthSchema } from "../units/request";
import { readUnit, type Unit } from "./figure";
import { requestsIn } from "./requests";

/** What the figures of a column are of. */
export interface GridColumn {
  /** As people count. */
  column: number;
  head: string;
  drill: string;
  direction: DrillDirection;
  /** Bytes of one request, and requests in flight; null: as the drill usually has them. */
  block: number | null;
  depth: number | null;
  unit: Unit;
}

/** What a tester says that a column is, where its head was understood otherwise. */
export const SaidColumn = z.object({
  drill: z.string().refine((name) => DRILLS.some((kind) => kind.name === name), "is no drill"),
  direction: DrillDirectionSchema,
  block: blockSchema.nullable().default(null),
  depth: depthSchema.nullable().default(null),
});
export type SaidColumn = z.infer<typeof SaidColumn>;

/** Words in a head that mean a drill, beside its own name and its trade description. */
const TRADE_WORDS: readonly [RegExp, string][] = [
  [/long fill|sustained/i, "long-fill"],
  [/sequential|seq(?![a-z])|large blocks/i, "haul"],
  [/random|rnd(?![a-z])|rand(?![a-z])|small blocks/i, "scatter"],
  [/copy|folder/i, "ferry"],
];
const WAYS: readonly [RegExp, DrillDirection][] = [
  [/\b(mixed|read and write)\b/i, "mixed"],
  [/\b(write|writing|written|w)\b/i, "write"],
  [/\b(read|reading|r)\b/i, "read"],
];

/** Requests up to this size are what a head without a word for it means by small ones. */
const SMALL = 64 * 2 ** 10;

/**
 * What a head means.
 *
 * @returns a text where it means a drill and something is missing or makes no sense; null for none
 */
export function columnOf(head: string): Omit<GridColumn, "column" | "head"> | string | null {
  const { block, depth, rest } = requestsIn(head);
  const plain = rest.replaceAll("-", " ").trim();
  const direction = WAYS.find(([words]) => words.test(plain))?.[1];
  const kind = kindIn(plain) ?? kindByRequests(block, depth, direction);
  if (kind === null || typeof kind === "string") return kind;
  const only = kind.directions.length === 1 ? kind.directions[0] : undefined;
  const way = direction ?? only ?? kind.usualDirection;
  if (!way) return `says neither reading nor writing: "${kind.title} read", "${kind.title} write"`;
  return checkedColumn({ drill: kind.name, direction: way, block, depth }, head);
}

/** A column as a tester says it is. */
export const saidColumn = (said: SaidColumn, head: string) => checkedColumn(said, head);

function checkedColumn(
  { drill, direction, block, depth }: SaidColumn,
  head: string,
): Omit<GridColumn, "column" | "head"> | string {
  const kind = drillNamed(drill);
  if (!kind.directions.includes(direction))
    return `${kind.title} goes ${kind.directions.join(" or ")} only`;
  for (const [name, value, schema] of [
    ["block", block, blockSchema],
    ["depth", depth, depthSchema],
  ] as const) {
    if (value === null) continue;
    if (!(name in kind.parameters))
      return `${kind.title} has ${name === "block" ? "no requests of one size" : "no certain number in flight"}`;
    const wrong = schema.safeParse(value).error?.issues[0]?.message;
    if (wrong) return `${name === "block" ? "the block" : "the number in flight"} ${wrong}`;
  }
  const unit = unitIn(head) ?? usualUnit(kind.shows.includes("iops"));
  return { drill, direction, block, depth, unit };
}

function kindIn(plain: string): DrillKind | null {
  const own = DRILLS.find(({ title, name }) =>
    [title, name.replaceAll("-", " ")].some((word) => new RegExp(`\\b${word}\\b`, "i").test(plain)),
  );
  const trade = TRADE_WORDS.find(([words]) => words.test(plain))?.[1];
  return own ?? DRILLS.find(({ name }) => name === trade) ?? null;
}

/** Where no word says which drill: large requests, or none said, are a Haul, small ones a Scatter. */
function kindByRequests(
  block: number | null,
  depth: number | null,
  direction: DrillDirection | undefined,
): DrillKind | string | null {
  if (block !== null) return drillNamed(block <= SMALL ? "scatter" : "haul");
  if (depth !== null)
    return "says how many were in flight, but not of which size, nor in which order";
  return direction === undefined ? null : drillNamed("haul");
}

const usualUnit = (requests: boolean): Unit =>
  requests ? { kind: "iops", times: 1 } : { kind: "rate", mbps: 1 };

/** A unit in a head: "Haul read (MiB/s)", "Scatter read, kIOPS". */
export function unitIn(head: string): Unit | null {
  for (const word of head.split(/[\s,;()[\]]+/)) {
    const unit = readUnit(word);
    if (unit) return unit;
  }
  return null;
}
