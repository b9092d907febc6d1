import type { Question } from "@/core/compare/question";
import type { ShownComparison } from "@/core/compare/shown";
import { DOING, inUnit, type RateUnit } from "@/core/units/rate";
import type { Cell } from "../out/save";
import { MARKS } from "./cell-words";

const digits = (value: number | null | undefined) =>
  value === null || value === undefined ? null : Number(value.toPrecision(6));

/** An answer as a table that leaves the program: a line for each rig, drill and direction. */
export function tableRows(shown: ShownComparison, question: Question, unit: RateUnit): Cell[][] {
  const rate = (mbps: number | null | undefined) =>
    mbps === null || mbps === undefined ? null : digits(inUnit(mbps, unit));
  const head = [
    "rig",
    "name",
    "file system",
    "drill",
    "direction",
    `median, ${unit}`,
    "n",
    "spread",
    `95 % from, ${unit}`,
    `95 % to, ${unit}`,
    `ceiling, ${unit}`,
    "share of the ceiling",
    `claimed, ${unit}`,
    "share of the baseline",
    "beside the baseline",
    "requests a second",
    "p50, µs",
    "p99, µs",
    "origin",
    "cautions",
  ];
  return [
    head,
    ...shown.rows.flatMap((row) =>
      row.cells.flatMap((cell, i): Cell[][] => {
        if (!cell) return [];
        const { repeats } = cell;
        const column = shown.columns[i]!;
        return [
          [
            row.letter,
            row.name,
            row.fileSystem,
            column.title,
            DOING[column.direction],
            rate(repeats.median),
            repeats.n,
            digits(repeats.n > 1 ? repeats.spread : null),
            rate(repeats.interval?.low),
            rate(repeats.interval?.high),
            rate(cell.ceiling),
            digits(cell.efficiency),
            rate(cell.claim?.mbps),
            digits(cell.retention),
            cell.mark === null ? null : MARKS[cell.mark].words,
            digits(cell.iops),
            digits(cell.p50Us),
            digits(cell.p99Us),
            cell.origin,
            cell.cautions.join("; "),
          ],
        ];
      }),
    ),
  ];
}

/** What an answer is of, to stand below its pictures. */
export function noteOf(shown: ShownComparison, question: Question, unit: RateUnit): string {
  const drills = shown.columns.map(({ title, direction }) => `${title} ${DOING[direction]}`);
  const against = shown.baseline
    ? `rig ${shown.baseline.letter}, ${shown.baseline.name}`
    : question.against === "claim"
      ? "what is claimed"
      : "the link ceiling";
  const cells = shown.rows.flatMap((row) => row.cells.flatMap((cell) => cell ?? []));
  const simulated = cells.some(({ origin }) => origin === "simulated");
  const other = [...new Set(cells.map(({ origin }) => origin))].filter(
    (origin) => origin !== "measured" && origin !== "simulated",
  );
  return `${[...new Set(drills)].join(", ")}; ${shown.rows.length} rigs against ${against}; medians in ${unit}.${simulated ? " Simulated." : ""}${other.length > 0 ? ` Partly ${other.join(" and ")}.` : ""}`;
}
