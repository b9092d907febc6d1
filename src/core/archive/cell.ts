import Papa from "papaparse";
import { formatNumber, formatRate } from "../units/number";
import type { Answer } from "./answer";
import type { AnswerColumn, Writing } from "./questions/question";

/** A value of an answer as people read it; "–" where there is none. */
export function writeCell(value: unknown, as: Writing | null): string {
  if (value === null || value === undefined || value === "") return "–";
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (typeof value !== "number") return typeof value === "string" ? value : JSON.stringify(value);
  switch (as) {
    case "text":
      return String(value);
    case "count":
      return formatNumber(value);
    case "share":
      return `${formatNumber(value * 100, Math.abs(value) < 0.0995 ? 1 : 0)} %`;
    case "rate":
      return `${formatRate(value)} MB/s`;
    case "celsius":
      return `${formatNumber(value)} °C`;
    case "seconds":
      return `${formatNumber(value, 1)} s`;
    case null:
      return Number.isInteger(value) ? formatNumber(value) : String(Number(value.toPrecision(6)));
  }
}

/** The columns of an answer with what they are called; those of one's own SQL as the SQL calls them. */
export const titled = (
  { columns }: Pick<Answer, "columns">,
  known: Readonly<Record<string, AnswerColumn>> = {},
): { name: string; title: string; as: Writing | null }[] =>
  columns.map(({ name }) => {
    const column = Object.hasOwn(known, name) ? known[name] : undefined;
    return { name, title: column?.title ?? name, as: column?.as ?? null };
  });

/** An answer as CSV (RFC 4180), with the names of the SQL: safe to open in a spreadsheet. */
export const answerCsv = ({ columns, rows }: Answer): string =>
  `${Papa.unparse(
    { fields: columns.map(({ name }) => name), data: rows.map((row) => row.map(plain)) },
    { escapeFormulae: true },
  )}\r\n`;

const plain = (value: unknown): unknown =>
  value !== null && typeof value === "object" ? JSON.stringify(value) : value;
