"use client";

import { useCallback } from "react";
import type { Reading } from "@/core/run/result";
import { sensorOf } from "@/core/run/sensor";
import type { OpenTrace } from "@/core/study/open-trace";
import { inUnit } from "@/core/units/rate";
import { LazyPlot } from "../charts/lazy-plot";
import { STROKES, type Look } from "../charts/plot";
import { useUnit } from "../frame/unit";

/** A run's rate with the temperatures of a log over it, to see whether their clocks agree. */
export function WarmthPlot({
  trace,
  readings,
}: {
  trace: Pick<OpenTrace, "places" | "startMs">;
  readings: readonly Reading[];
}) {
  const unit = useUnit();
  const names = [...new Set(readings.flatMap(({ celsius }) => Object.keys(celsius)))];
  const content = `${unit} ${readings.length} ${readings[0]?.ms} ${names.join()}`;
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => ({
      tooltip,
      legend: {
        top: 0,
        right: 40,
        textStyle: { color: colour("ink"), fontFamily: "Barlow Semi Condensed" },
      },
      xAxis: {
        type: "value",
        name: "seconds",
        nameLocation: "middle",
        nameGap: 22,
        ...axis,
      },
      yAxis: [
        { type: "value", min: 0, name: unit, ...axis },
        { type: "value", scale: true, ...axis, splitLine: { show: false } },
      ],
      series: [
        {
          name: "rate",
          type: "line",
          showSymbol: false,
          data: trace.places.map(({ fromMs, toMs, mean }) => [
            ((fromMs + toMs) / 2 - trace.startMs) / 1e3,
            Number(inUnit(mean, unit).toPrecision(4)),
          ]),
          lineStyle: { color: colour("flow"), width: 1.8 },
          itemStyle: { color: colour("flow") },
        },
        ...names.slice(0, 6).map((name, i) => ({
          name: `${sensorOf(name)}, °C`,
          type: "line",
          yAxisIndex: 1,
          showSymbol: false,
          data: readings.flatMap(({ ms, celsius }) =>
            celsius[name] === undefined ? [] : [[(ms - trace.startMs) / 1e3, celsius[name]]],
          ),
          lineStyle: { color: colour("ink"), width: 1.2, type: STROKES[(i + 1) % STROKES.length] },
          itemStyle: { color: colour("ink") },
        })),
      ],
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the drawing depends on what is drawn
    [content],
  );
  return (
    <LazyPlot
      label="The run’s rate, and the log’s temperatures"
      option={option}
      out={{
        caption: {
          title: "Rate and temperatures",
          note: `In ${unit} and °C, over the seconds of the run.`,
        },
        rows: () => [
          ["s", ...names.map((name) => `${sensorOf(name)}, °C`)],
          ...readings.map(({ ms, celsius }) => [
            ms / 1e3,
            ...names.map((name) => celsius[name] ?? ""),
          ]),
        ],
      }}
    />
  );
}
