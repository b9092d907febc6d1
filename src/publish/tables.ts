import Papa from "papaparse";
import { unturned } from "@/core/units/text";
import type { Table } from "@/core/report/document";

/** A table as CSV: title, units and source in lines of their own before it, figures as plain numbers. */
export function csvOf({ title, note, columns, rows }: Table, source: string): string {
  const data = rows.map((cells) => cells.map(({ text, value }) => value ?? text));
  const lines = [[title], [note], [source], columns.map(({ name }) => name), ...data];
  return unturned(`${Papa.unparse(lines, { escapeFormulae: true })}\r\n`);
}
