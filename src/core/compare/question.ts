import * as z from "zod";
import { RateUnit } from "../units/rate";
import { AXES, type Axis } from "./axes";

/** How an answer is shown. */
export const VIEWS = {
  table: "table",
  matrix: "matrix",
  narrows: "Narrows",
  bars: "bars",
  native: "native against observed",
  ladders: "ladders",
  traces: "traces",
  repeats: "repeats",
} as const;
export type ViewName = keyof typeof VIEWS;

/** What rows are put in order by. */
export const SORTS = {
  letter: "their letters",
  rate: "rate",
  efficiency: "efficiency",
  retention: "share of the baseline",
  spread: "spread",
  price: "price",
} as const;
export type Sort = keyof typeof SORTS;

/** What a figure is held against: the ledger, what is claimed, or one rig of the study. */
export const AGAINST_WORDS = { ceiling: "the link ceiling", claim: "what is claimed" } as const;

const Edge = z
  .enum(Object.keys(AXES) as [Axis])
  .nullable()
  .catch(null);

/** Most rigs an address can name; more are all of them. */
const MOST_NAMED = 60;

/**
 * The question that Compare answers: "How does [drive] do [drill] through [rigs], [direction], against
 * [what]?". It stands in the address, so that an answer can be linked.
 */
export const Question = z.object({
  /** A drive's identifier; null: every drive. */
  drive: z.string().max(80).nullable().catch(null),
  /** A drill by its name, or "all": every drill that was done. */
  drill: z.string().max(40).catch("all"),
  /** Identifiers of rigs; null: all of them. */
  rigs: z.array(z.string().max(80)).min(1).max(MOST_NAMED).nullable().catch(null),
  direction: z.enum(["read", "write", "both"]).catch("both"),
  /** "ceiling", "claim", or a rig's identifier. */
  against: z.string().max(80).catch("ceiling"),
  view: z.enum(Object.keys(VIEWS) as [ViewName]).catch("table"),
  sort: z.enum(Object.keys(SORTS) as [Sort]).catch("letter"),
  /** What a matrix has down and across; null: what differs most. */
  down: Edge,
  across: Edge,
  /** Whether every row is shown, however many there are. */
  all: z.stringbool().or(z.boolean()).catch(false),
  unit: RateUnit.optional().catch(undefined),
  /** How much the tester has to move, GB. */
  gb: z.coerce.number().positive().max(1e9).catch(1000),
  /** How fast the other side of a copy gives or takes it, MB/s; null: faster than anything here. */
  other: z.coerce.number().positive().max(1e6).nullable().catch(null),
});
export type Question = z.infer<typeof Question>;

type Query = Record<string, string | string[] | undefined>;

/** Reads the question out of an address; what makes no sense there is as if left out. */
export function questionFrom(query: Query): Question {
  const one = (name: string) => [query[name]].flat()[0];
  const rigs = [query.rigs].flat().flatMap((text) => text?.split(",") ?? []);
  return Question.parse({
    drive: one("drive") ?? null,
    drill: one("drill") ?? "all",
    direction: one("direction"),
    rigs: rigs.filter(Boolean).length > 0 ? rigs.filter(Boolean) : null,
    against: one("against"),
    view: one("view"),
    sort: one("sort"),
    unit: one("unit"),
    all: one("all"),
    down: one("down") ?? null,
    across: one("across") ?? null,
    gb: one("gb"),
    other: one("other") ?? null,
  });
}

/** The address's query for a question; what is as usual is left out. */
export function queryOf(question: Question): string {
  const usual = questionFrom({});
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(question)) {
    if (value === null || value === undefined || value === usual[name as keyof Question]) continue;
    query.set(name, Array.isArray(value) ? value.join(",") : String(value));
  }
  return query.toString();
}
