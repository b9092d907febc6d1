"use client";

import { useCallback } from "react";
import { isBeyond } from "@/core/compare/practice";
import { formatNumber } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";
import { useUnit } from "../frame/unit";
import { LABELS, MOST, nameOf, rigAxis, titleOf, type PictureProps } from "./picture-look";
import { noteOf, tableRows } from "./table-rows";

/** Writing is hatched everywhere. */
const hatched = (look: Look) => ({
  symbol: "rect",
  dashArrayX: [1, 0],
  dashArrayY: [2, 3],
  rotation: -Math.PI / 4,
  color: look.colour("sheet"),
});

/** Bars with a mark for the ceiling and one for what is claimed. */
export function Bars({ shown, question }: PictureProps) {
  const unit = useUnit();
  const rows = shown.rows.slice(0, MOST);
  const option = useCallback(
    (look: Look) => {
      const { colour, axis, tooltip } = look;
      const show = (mbps: number | null | undefined) =>
        mbps === null || mbps === undefined ? null : inUnit(mbps, unit);
      const ways = shown.columns;
      const hollow = {
        color: "transparent",
        borderColor: colour("flow"),
        borderType: "dashed",
        borderWidth: 1.5,
        decal: { symbol: "none" },
      };
      return {
        grid: { left: 62, right: 20, top: 34, bottom: rows.length > 12 ? 60 : 40 },
        legend: {
          top: 0,
          right: 8,
          textStyle: { color: colour("ink"), fontFamily: LABELS },
          data: [...ways.map(nameOf), "ceiling", "claimed"],
        },
        tooltip: {
          ...tooltip,
          valueFormatter: (value: unknown) =>
            value === null || value === undefined
              ? "—"
              : `${formatNumber(Number(value), 1)} ${unit}`,
        },
        xAxis: rigAxis(rows, axis),
        yAxis: { ...axis, type: "value", name: unit, min: 0 },
        series: [
          ...ways.map((way, i) => ({
            name: nameOf(way),
            type: "bar",
            barMaxWidth: 46,
            data: rows.map(({ cells }) => {
              const cell = cells[i];
              const value = show(cell?.repeats.median);
              // What cannot be true is drawn hollow.
              return cell && isBeyond(cell) ? { value, itemStyle: hollow } : value;
            }),
            itemStyle: {
              color: colour("flow"),
              // Several drills are told apart by how dark they are, directions by the hatch.
              opacity: 1 - 0.22 * (Math.floor(i / 2) % 4),
              ...(way.direction === "write" ? { decal: hatched(look) } : {}),
            },
          })),
          ...(["ceiling", "claimed"] as const).map((name) => ({
            name,
            type: "scatter",
            symbol: name === "ceiling" ? "rect" : "diamond",
            // A ceiling is that of the whole rig, so it lies across all its bars.
            symbolSize: name === "ceiling" ? [Math.min(50 * ways.length, 760 / rows.length), 2] : 9,
            z: 5,
            data: rows.map(({ cells }) => {
              const cell = cells.find((one) => one !== null);
              return show(name === "ceiling" ? cell?.ceiling : cell?.claim?.mbps);
            }),
            itemStyle: { color: colour("ink") },
          })),
          ...(shown.references.length > 0
            ? [
                {
                  name: "stated",
                  type: "scatter",
                  // Points of no size: the axis reaches as far as they do.
                  symbolSize: 0,
                  data: shown.references.map(({ mbps }) => [0, show(mbps)]),
                  markLine: {
                    silent: true,
                    symbol: "none",
                    lineStyle: { color: colour("secondary"), type: "dashed" },
                    label: {
                      position: "insideStartTop",
                      color: colour("ink"),
                      fontFamily: LABELS,
                      formatter: "{b}",
                    },
                    data: shown.references.map(({ name, mbps }) => ({
                      name: `${name}, stated: ${formatNumber(inUnit(mbps, unit))} ${unit}`,
                      yAxis: show(mbps),
                    })),
                  },
                },
              ]
            : []),
        ],
      };
    },
    [shown, rows, unit],
  );
  return (
    <>
      <LazyPlot
        label="Rates of the rigs as bars, with a line for each ceiling and a diamond for what is claimed."
        option={option}
        className="h-[400px] w-full"
        out={{
          caption: { title: titleOf(shown), note: noteOf(shown, question, unit) },
          rows: () => tableRows(shown, question, unit),
        }}
      />
      {shown.rows.length > MOST && (
        <p className="text-sm text-secondary">
          The first {MOST} of {shown.rows.length} rigs; the table has all.
        </p>
      )}
    </>
  );
}
