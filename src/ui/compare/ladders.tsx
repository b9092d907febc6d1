"use client";

import { useCallback } from "react";
import { formatIn, formatMicroseconds, formatNumber, formatPercent } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { iopsAtDepth, sayMisfit } from "@/core/stats/ladder";
import { formatSize } from "@/core/units/size";
import { LazyPlot } from "../charts/lazy-plot";
import { STROKES, type Look } from "../charts/plot";
import { useUnit } from "../frame/unit";
import { LABELS, type PictureProps } from "./picture-look";
import { noteOf } from "./table-rows";

/** Ladders over each other, with what was fitted to each. */
export function Ladders({ shown, question }: PictureProps) {
  const unit = useUnit();
  const kinds = (["block", "depth"] as const).filter((by) =>
    shown.ladders.some((ladder) => ladder.by === by),
  );
  if (kinds.length === 0)
    return (
      <p className="py-6 text-secondary">
        No ladder was done through these rigs. A Stride ladder shows the rate by block size, a Depth
        ladder by requests in flight.
      </p>
    );
  return (
    <div className="grid gap-4">
      {kinds.map((by) => (
        <LadderPicture key={by} shown={shown} question={question} by={by} unit={unit} />
      ))}
    </div>
  );
}

const depths = (points: readonly { at: number; iops: number }[]) =>
  points.map(({ at, iops }) => ({ depth: at, iops }));

function LadderPicture({
  shown,
  question,
  by,
  unit,
}: PictureProps & { by: "block" | "depth"; unit: ReturnType<typeof useUnit> }) {
  const ladders = shown.ladders.filter((ladder) => ladder.by === by);
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => {
      const places = [...new Set(ladders.flatMap(({ points }) => points.map(({ at }) => at)))].sort(
        (a, b) => a - b,
      );
      const show = (mbps: number, iops: number) => (by === "block" ? inUnit(mbps, unit) : iops);
      return {
        grid: { left: 72, right: 20, top: 34, bottom: 46 },
        legend: { top: 0, right: 8, textStyle: { color: colour("ink"), fontFamily: LABELS } },
        tooltip: { ...tooltip, valueFormatter: (v: unknown) => formatNumber(Number(v), 1) },
        xAxis: {
          ...axis,
          type: "category",
          name: by === "block" ? "block size" : "requests in flight",
          nameLocation: "middle",
          nameGap: 26,
          data: places.map((at) => (by === "block" ? formatSize(at) : String(at))),
        },
        yAxis: {
          ...axis,
          type: "value",
          name: by === "block" ? unit : "requests a second",
          min: 0,
          axisLabel: { ...(axis.axisLabel as object), formatter: (v: number) => formatNumber(v) },
        },
        series: ladders.flatMap(({ letter, name, points, fit }, i) => [
          {
            name: `${letter}  ${name}`,
            type: "line",
            symbol: ["circle", "diamond", "triangle", "rect"][i % 4],
            symbolSize: 7,
            data: places.map((at) => {
              const point = points.find((one) => one.at === at);
              return point ? show(point.mbps, point.iops) : null;
            }),
            lineStyle: { color: colour("flow"), width: 1.6, type: STROKES[i % 3] },
            itemStyle: { color: colour("flow") },
          },
          ...(fit
            ? [
                {
                  name: `fit of ${letter}`,
                  type: "line",
                  symbol: "none",
                  data: places.map((at) => {
                    if (fit.by === "block")
                      return inUnit(at / (fit.overheadUs + at / fit.asymptoteMBps), unit);
                    return iopsAtDepth(fit, at);
                  }),
                  lineStyle: { color: colour("ink"), width: 1, type: "dashed" },
                  itemStyle: { color: colour("ink") },
                },
              ]
            : []),
        ]),
      };
    },
    [ladders, by, unit],
  );
  const words = (mbps: number) => `${formatIn(mbps, unit)} ${unit}`;
  return (
    <div>
      <LazyPlot
        label={by === "block" ? "Rate by block size." : "Requests a second by requests in flight."}
        option={option}
        className="h-[340px] w-full"
        out={{
          caption: {
            title: by === "block" ? "Rate by block size" : "Requests a second by depth",
            note: noteOf(shown, question, unit),
          },
          rows: () => [
            ["rig", "name", by === "block" ? "block, bytes" : "depth", unit, "requests a second"],
            ...ladders.flatMap(({ letter, name, points }) =>
              points.map(({ at, mbps, iops }) => [
                letter,
                name,
                at,
                Number(inUnit(mbps, unit).toPrecision(6)),
                Number(iops.toPrecision(6)),
              ]),
            ),
          ],
        }}
      />
      <ul className="mt-1 list-disc pl-5">
        {ladders.map(({ letter, fit, points }) => (
          <li key={letter}>
            <span className="font-serif italic">{letter}</span>:{" "}
            {!fit
              ? "no curve fits: larger requests took no longer than small ones"
              : fit.by === "block"
                ? `each request costs ${formatMicroseconds(fit.overheadUs)} beside its bytes, which go at up to ${words(fit.asymptoteMBps)}; half of that is reached with ${formatSize(fit.halfRateBytes)}. The curve misses no step by more than ${formatPercent(fit.worst)}.`
                : fit.rises
                  ? `one at a time ${formatNumber(fit.singleIops)} requests a second, at most ${formatNumber(fit.plateauIops)}; the knee is at ${formatNumber(fit.kneeDepth, 1)} in flight.${sayMisfit(fit, depths(points))}`
                  : `no rise with more in flight (${formatNumber(fit.singleIops)} a second at one, ${formatNumber(fit.plateauIops)} at most): the signature of a path without queueing.`}
          </li>
        ))}
      </ul>
    </div>
  );
}
