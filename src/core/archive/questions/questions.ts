import { bottlenecks } from "./bottlenecks";
import { ceilingsReached } from "./ceilings-reached";
import { claimsDelivered } from "./claims-delivered";
import { drivesOverTime } from "./drives-over-time";
import { measuredByMonth } from "./measured-by-month";
import { enclosureVerdicts } from "./enclosure-verdicts";
import type { Filters, Question } from "./question";
import { stoodStill } from "./stood-still";
import { warmDrives } from "./warm-drives";

/** The ready questions, in the order in which they are offered. */
export const QUESTIONS: readonly Question[] = [
  claimsDelivered,
  enclosureVerdicts,
  bottlenecks,
  drivesOverTime,
  ceilingsReached,
  warmDrives,
  stoodStill,
  measuredByMonth,
];

export const findQuestion = (name: string): Question | null =>
  QUESTIONS.find((one) => one.name === name) ?? null;

/**
 * The SQL of a question with a filter's value in each place that waits for one.
 *
 * A text stands as a literal with its quotes doubled (SQL:2016, 5.3), so that it is text whatever it holds.
 */
export function sqlOf({ sql }: Pick<Question, "sql">, filters: Filters): string {
  const values: Record<string, string | number> = {
    ...filters,
    words: likeText(filters.words),
    since_moment: `${filters.since || "1970-01-01"} 00:00:00`,
    until_moment: `${filters.until || "9999-12-31"} 23:59:59.999`,
  };
  return sql.replaceAll(/:([a-z_]+)/g, (_, name: string) => {
    const value = values[name];
    if (value === undefined)
      throw new RangeError(`A question waits for “${name}”, which no filter has.`);
    return typeof value === "number" ? String(value) : `'${value.replaceAll("'", "''")}'`;
  });
}

/** Words to be found as they are: what LIKE would read as any text stands for one letter at most. */
const likeText = (words: string): string => words.replaceAll("%", "_");
