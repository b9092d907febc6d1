"use client";

import { useCallback } from "react";
import type { Answer } from "@/core/archive/answer";
import { titled, writeCell } from "@/core/archive/cell";
import type { AnswerColumn, Picture, Question } from "@/core/archive/questions/question";
import { formatNumber } from "@/core/units/number";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";

/** Bars that can be told apart on a page, and lines. */
const MOST_BARS = 24;
const MOST_LINES = 6;
const STROKES = ["solid", "dashed", "dotted"];

/** Stands for a label that the tester left empty. */
const NOT_SAID = "not stated";

type Cells = Readonly<Record<string, unknown>>;

/** An answer drawn as its question says. */
export function AnswerPicture({ answer, question }: { answer: Answer; question: Question }) {
  const { picture, columns, title, words } = question;
  const all: Cells[] = answer.rows.map((row) =>
    Object.fromEntries(answer.columns.map(({ name }, i) => [name, row[i]])),
  );
  const rows = picture.kind === "bars" ? all.slice(0, MOST_BARS) : all;
  const option = useCallback(
    (look: Look) =>
      picture.kind === "bars"
        ? barsOf(rows, picture, columns, look)
        : monthsOf(rows, picture, columns, look),
    [rows, picture, columns],
  );
  const value = columns[picture.value]!;
  return (
    <>
      <LazyPlot
        label={`${title} The values stand in the table below.`}
        option={option}
        className="w-full"
        height={picture.kind === "bars" ? 70 + rows.length * 26 : 280}
        out={{
          caption: { title, note: words },
          statement: title,
          rows: () => [
            titled(answer, columns).map((column) => column.title),
            ...answer.rows.map((row) =>
              row.map((cell) =>
                typeof cell === "number" || cell === null ? cell : writeCell(cell, null),
              ),
            ),
          ],
        }}
      />
      {all.length > rows.length && (
        <p className="text-sm text-secondary">
          The picture shows the first {formatNumber(rows.length)} of {formatNumber(all.length)} by{" "}
          {value.title.toLowerCase()}.
        </p>
      )}
    </>
  );
}

/** A share is drawn in per cent. */
const drawn = (value: unknown, { as }: AnswerColumn): number | null =>
  typeof value === "number" ? (as === "share" ? value * 100 : value) : null;

const axisName = ({ title, as }: AnswerColumn) => (as === "share" ? `${title}, %` : title);

function barsOf(
  rows: readonly Cells[],
  { label, value, low, high }: Extract<Picture, { kind: "bars" }>,
  columns: Question["columns"],
  { colour, axis, tooltip }: Look,
) {
  const column = columns[value]!;
  const name = (row: Cells) =>
    label
      .map((each) => (row[each] ? writeCell(row[each], columns[each]!.as) : NOT_SAID))
      .join(", ");
  const ends = [low, high].flatMap((each) => (each ? [each] : []));
  return {
    grid: { left: 12, right: 32, top: 8, bottom: 44, containLabel: true },
    tooltip: { ...tooltip, valueFormatter: (shown: unknown) => formatNumber(Number(shown), 1) },
    yAxis: {
      ...axis,
      type: "category",
      inverse: true,
      data: rows.map(name),
      axisLabel: {
        ...(axis.axisLabel as object),
        color: colour("ink"),
        width: 220,
        overflow: "truncate",
      },
    },
    xAxis: {
      ...axis,
      type: "value",
      min: 0,
      name: ends.length > 0 ? `${axisName(column)} (marks: lowest and highest)` : axisName(column),
      nameLocation: "middle",
      nameGap: 26,
    },
    series: [
      {
        name: column.title,
        type: "bar",
        barMaxWidth: 16,
        data: rows.map((row) => drawn(row[value], column)),
        itemStyle: { color: colour("flow") },
      },
      ...ends.map((end) => ({
        name: columns[end]!.title,
        type: "scatter",
        symbol: "rect",
        symbolSize: [2, 14],
        z: 5,
        data: rows.map((row, i) => [drawn(row[end], columns[end]!), i]),
        itemStyle: { color: colour("ink") },
      })),
    ],
  };
}

function monthsOf(
  rows: readonly Cells[],
  { series, value }: Extract<Picture, { kind: "months" }>,
  columns: Question["columns"],
  { colour, axis, tooltip }: Look,
) {
  const column = columns[value]!;
  const monthOf = ({ year, month }: Cells) => `${String(year)}-${String(month).padStart(2, "0")}`;
  const months = [...new Set(rows.map(monthOf))].toSorted();
  const names = [...new Set(rows.map((row) => String(row[series])))].slice(0, MOST_LINES);
  return {
    grid: { left: 12, right: 24, top: 40, bottom: 12, containLabel: true },
    legend: { top: 0, right: 8, textStyle: { color: colour("ink") } },
    tooltip: { ...tooltip, valueFormatter: (shown: unknown) => formatNumber(Number(shown), 1) },
    xAxis: { ...axis, type: "category", data: months },
    yAxis: { ...axis, type: "value", name: axisName(column), scale: column.as === "share" },
    series: names.map((name, i) => ({
      name,
      type: "line",
      symbolSize: 6,
      lineStyle: { type: STROKES[i % STROKES.length], width: 1.8 },
      itemStyle: { color: colour("flow"), opacity: 1 - 0.3 * Math.floor(i / STROKES.length) },
      data: months.map((month) => {
        const row = rows.find((one) => one[series] === name && monthOf(one) === month);
        return row ? drawn(row[value], column) : null;
      }),
    })),
  };
}
