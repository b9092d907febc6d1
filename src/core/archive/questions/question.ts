import * as z from "zod";
import { Direction } from "../../units/rate";
import { line } from "../../units/text";

/** What a ready question can be narrowed to; left out, everything counts. */
export const Filters = z.object({
  /** Words that the name, maker, model, chip or mark of a part contains. */
  words: line(80).default(""),
  direction: Direction.or(z.literal("")).default(""),
  /** Signalling rate of the part's fastest link, Gb/s; 0 for any. */
  gbps: z.coerce.number().min(0).max(10_000).default(0),
  /** The machine that measured. */
  host: line(80).default(""),
  /** First and last day, UTC. */
  since: z.iso.date().or(z.literal("")).default(""),
  until: z.iso.date().or(z.literal("")).default(""),
  /** Whether runs of the simulated bench count too. */
  simulated: z.enum(["yes", "no"]).default("no"),
});
export type Filters = z.infer<typeof Filters>;
export type FilterName = keyof Filters;

/** How a column of an answer is written. */
export type Writing = "text" | "count" | "rate" | "share" | "celsius" | "seconds";

export interface AnswerColumn {
  title: string;
  as: Writing;
}

/** How an answer is drawn. */
export type Picture =
  /** A bar for each row, with a line from the lowest to the highest value where there are such. */
  | { kind: "bars"; label: readonly string[]; value: string; low?: string; high?: string }
  /** A line for each series through the months. */
  | { kind: "months"; series: string; value: string };

/**
 * A question that is asked of archives again and again. Its SQL is of the standard, with `:name` where a
 * filter's value stands, and uses nothing that only one engine knows (vocabulary.test.ts).
 */
export interface Question {
  name: string;
  title: string;
  /** What the answer says and what it rests on. */
  words: string;
  filters: readonly FilterName[];
  sql: string;
  /** The columns of its answer, by the names that the SQL gives them. */
  columns: Readonly<Record<string, AnswerColumn>>;
  picture: Picture;
}

/** A row holds while nothing newer was written of the same key: latest_row is 1. */
export const latest = (table: string, key: string): string =>
  `SELECT t.*, ROW_NUMBER() OVER (PARTITION BY ${key} ORDER BY written_at DESC) AS latest_row
  FROM ${table} t`;

/** Runs that count: done, no warm-up, past the memory of the host, not left out then or later. */
export const COUNTING = `counting AS (
  SELECT r.* FROM runs r
  LEFT JOIN (
    ${latest("marks", "run_id").replaceAll("\n", "\n    ")}
  ) m ON m.run_id = r.run_id AND m.latest_row = 1
  WHERE r.status = 'done' AND NOT r.is_warm_up AND NOT r.is_from_memory AND r.mean_mb_per_s IS NOT NULL
    AND CASE WHEN m.run_id IS NULL THEN r.left_out ELSE m.left_out END IS NULL
    AND (:simulated = 'yes' OR r.origin <> 'simulated')
    AND (:direction = '' OR r.direction = :direction)
    AND (:host = '' OR r.host = :host)
    AND (:since = '' OR r.started_at >= CAST(:since_moment AS TIMESTAMP))
    AND (:until = '' OR r.started_at <= CAST(:until_moment AS TIMESTAMP))
)`;

/** Parts whose words and link are asked for, of the columns of a table that is called p. */
export const PART_FILTER = `(:words = '' OR LOWER(p.name || ' ' || p.maker || ' ' || p.model || ' ' || p.chip || ' ' || p.tag) LIKE '%' || LOWER(:words) || '%')
  AND (:gbps = 0 OR p.uplink_gb_per_s BETWEEN :gbps * 0.9 AND :gbps * 1.1)`;

/** The latest verdicts on claims of throughput of enclosures, as a table that is called judged. */
export const JUDGED_ENCLOSURES = `judged AS (
  SELECT p.name, p.maker, p.model, p.chip, p.firmware, v.study_id, v.part_id, v.kind, v.direction, v.verdict,
    v.claimed_mb_per_s, v.observed_mb_per_s, v.share_of_claim
  FROM (
    ${latest("verdicts", "study_id, part_id, claim").replaceAll("\n", "\n    ")}
  ) v
  JOIN parts p ON p.part_version = v.part_version
  WHERE v.latest_row = 1 AND p.kind = 'enclosure' AND v.share_of_claim IS NOT NULL
    AND v.kind IN ('peak', 'sustained')
    AND (:simulated = 'yes' OR v.origin <> 'simulated')
    AND (:direction = '' OR v.direction = :direction)
    AND ${PART_FILTER.replaceAll("\n", "\n  ")}
)`;

/** The filters of runs. */
export const OF_RUNS = ["direction", "host", "since", "until", "simulated"] as const;
