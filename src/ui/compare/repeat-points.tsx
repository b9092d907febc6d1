"use client";

import { useCallback } from "react";
import { formatNumber } from "@/core/units/number";
import { DOING, inUnit } from "@/core/units/rate";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";
import { useUnit } from "../frame/unit";
import { LABELS, MOST, nameOf, rigAxis, titleOf, type PictureProps } from "./picture-look";
import { noteOf } from "./table-rows";

/** Each repeat as a point: whether they agree is seen at once. */
export function RepeatPoints({ shown, question }: PictureProps) {
  const unit = useUnit();
  const rows = shown.rows.slice(0, MOST);
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => ({
      grid: { left: 62, right: 20, top: 34, bottom: 40 },
      legend: {
        top: 0,
        right: 8,
        textStyle: { color: colour("ink"), fontFamily: LABELS },
      },
      tooltip: {
        ...tooltip,
        trigger: "item",
        valueFormatter: (value: unknown) => `${formatNumber(Number(value), 1)} ${unit}`,
      },
      xAxis: rigAxis(rows, axis),
      yAxis: { ...axis, type: "value", name: unit, scale: true },
      series: shown.columns.map((column, i) => ({
        name: nameOf(column),
        type: "scatter",
        symbol: ["circle", "emptyCircle", "diamond", "triangle", "rect"][i % 5],
        symbolSize: 9,
        data: rows.flatMap(({ cells }, at) =>
          (cells[i]?.runs ?? [])
            .filter(({ leftOut }) => leftOut === null)
            .map(({ mbps }) => [at, inUnit(mbps, unit)]),
        ),
        itemStyle: { color: colour("flow") },
      })),
    }),
    [shown, rows, unit],
  );
  return (
    <LazyPlot
      label="Every repeat of every rig as a point."
      option={option}
      className="h-[400px] w-full"
      out={{
        caption: { title: `Repeats: ${titleOf(shown)}`, note: noteOf(shown, question, unit) },
        rows: () => [
          ["rig", "name", "drill", "direction", "run", unit, "left out"],
          ...shown.rows.flatMap((row) =>
            row.cells.flatMap((cell, i) =>
              (cell?.runs ?? []).map((run) => [
                row.letter,
                row.name,
                shown.columns[i]!.title,
                DOING[shown.columns[i]!.direction],
                run.id,
                Number(inUnit(run.mbps, unit).toPrecision(6)),
                run.leftOut,
              ]),
            ),
          ),
        ],
      }}
    />
  );
}
