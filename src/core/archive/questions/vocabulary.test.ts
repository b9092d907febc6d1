import { describe, expect, it } from "vitest";
import { PLACE_COLUMNS, TABLES } from "../tables";
import { Filters } from "./question";
import { QUESTIONS, sqlOf } from "./questions";

/**
 * Words of SQL:2016 (ISO/IEC 9075-2) that the ready questions may use, all of which Spark SQL and Trino have
 * with the same meaning.
 */
const STANDARD = new Set(
  `SELECT DISTINCT FROM WHERE GROUP BY HAVING ORDER ASC DESC WITH AS JOIN LEFT INNER ON AND OR NOT IN IS NULL
  BETWEEN LIKE CASE WHEN THEN ELSE END CAST TIMESTAMP OVER PARTITION COUNT SUM AVG MIN MAX LOWER UPPER COALESCE
  FLOOR ROW_NUMBER`.split(/\s+/),
);

/** A question's SQL without its literals. */
const bare = (sql: string) => sql.replaceAll(/'(?:[^']|'')*'/g, "''");

const words = (sql: string): string[] => bare(sql).match(/[A-Za-z_][A-Za-z_0-9]*/g) ?? [];

describe.each(QUESTIONS.map((question) => [question.name, question] as const))(
  "the ready question %s",
  (_, question) => {
    const sql = sqlOf(question, Filters.parse({}));

    it("uses words of the standard and names of tables and columns, and nothing else", () => {
      const names = new Set([
        ...Object.keys(TABLES),
        ...Object.values(TABLES).flatMap(({ columns }) => Object.keys(columns)),
        ...Object.keys(PLACE_COLUMNS),
        // What it names itself: columns, tables of WITH, and one letter or two for a table.
        ...[...bare(sql).matchAll(/\bAS ([a-z_]+)/g)].map(([, name]) => name!),
        ...[...bare(sql).matchAll(/\b([a-z_]+) AS \(/g)].map(([, name]) => name!),
        ...[...bare(sql).matchAll(/(?:FROM|JOIN) [a-z_]+ ([a-z]{1,2})\b/g)].map(
          ([, name]) => name!,
        ),
        ...[...bare(sql).matchAll(/\)\s+([a-z]{1,2})\s/g)].map(([, name]) => name!),
      ]);
      const foreign = words(sql).filter((word) => !STANDARD.has(word) && !names.has(word));
      expect(foreign).toEqual([]);
    });

    it("uses signs of the standard only, and ends without a semicolon", () => {
      const signs = new Set(bare(sql).match(/[^\sA-Za-z_0-9]/g));
      for (const sign of signs) expect("()*,./|<>=+-'").toContain(sign);
      expect(bare(sql)).not.toMatch(/::|\[|\{|==|!=/);
    });

    it("says how each of its columns and its picture is read", () => {
      const { columns, picture } = question;
      const drawn =
        picture.kind === "bars"
          ? [...picture.label, picture.value, picture.low, picture.high]
          : [picture.series, picture.value, "year", "month"];
      for (const name of drawn) if (name) expect(Object.keys(columns)).toContain(name);
    });
  },
);

describe("a filter", () => {
  it("stands in the SQL as a literal", () => {
    const sql = sqlOf(
      { sql: "SELECT :words, :gbps" },
      Filters.parse({ words: "it's 5 %", gbps: "10" }),
    );
    expect(sql).toBe("SELECT 'it''s 5 _', 10");
    expect(() => sqlOf({ sql: ":nothing" }, Filters.parse({}))).toThrow(/nothing/);
  });
});
