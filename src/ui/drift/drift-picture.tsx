"use client";

import { useCallback } from "react";
import type { Drift } from "@/core/drift/drift";
import { fittedOn, relativeDays, seriesWords } from "@/core/drift/relative";
import { formatNumber } from "@/core/units/number";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";

/** Every measured day of a part's rigs as a share of what each rig gave before, with what became of it. */
export function DriftPicture({ drift, title }: { drift: Drift; title: string }) {
  const option = useCallback((look: Look) => drawn(drift, look), [drift]);
  return (
    <LazyPlot
      label={`${title} The days stand in the table below.`}
      option={option}
      className="w-full"
      height={240}
      out={{
        caption: {
          title: "Rate over time",
          note: "Each day’s rate as a share of what the same rig gave in the same drill before the change.",
        },
        statement: title,
        rows: () => [
          ["day", "measured alike", "% of the rate before", "MB/s", "runs"],
          ...relativeDays(drift).map(({ series, day, share }): (string | number)[] => {
            const one = drift.series[series]!;
            const { mbps, runs } = one.days.find((each) => each.day === day)!;
            return [day, seriesWords(one), 100 * share, mbps, runs];
          }),
        ],
      }}
    />
  );
}

function drawn(drift: Drift, { colour, axis, tooltip }: Look) {
  const days = relativeDays(drift);
  const all = [...new Set(days.map(({ day }) => day))].toSorted();
  // A step is drawn between the two days, a slope from one day to the next.
  const line = all.map((day) => [day, 100 * fittedOn(drift, day)]);
  return {
    grid: { left: 56, right: 20, top: 30, bottom: 38 },
    tooltip: {
      ...tooltip,
      trigger: "item",
      valueFormatter: (value: unknown) => `${formatNumber(Number(value), 1)} %`,
    },
    xAxis: {
      ...axis,
      type: "time",
      axisLabel: {
        ...(axis.axisLabel as object),
        formatter: "{yyyy}-{MM}-{dd}",
        hideOverlap: true,
      },
    },
    yAxis: { ...axis, type: "value", scale: true, name: "% of the rate before" },
    series: [
      {
        name: "a day of a rig",
        type: "scatter",
        symbolSize: 6,
        data: days.map(({ day, share }) => [day, 100 * share]),
        itemStyle: { color: colour("flow"), opacity: 0.75 },
      },
      {
        name: "all rigs together",
        type: "line",
        symbol: "none",
        step: drift.shape === "step" ? "end" : undefined,
        data: line,
        lineStyle: { color: colour("ink"), width: 1.5 },
        itemStyle: { color: colour("ink") },
      },
    ],
  };
}
