"use client";

import { useCallback } from "react";
import { formatNumber, formatRate } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { useUnit } from "../frame/unit";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";

interface Line {
  name: string;
  samples: readonly { from: number; ms: number; bytes: number }[];
}

/** Of an axis shorter than this the tenths are written. */
const FEW_SECONDS = 8;

const secondsOf = ({ samples }: Line): number => (samples.at(-1)?.ms ?? 0) / 1e3;

/** One or two traces over the same time; told apart by their strokes, too. */
export function TwoTraces({ label, first, second }: { label: string; first: Line; second?: Line }) {
  const unit = useUnit();
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => {
      const lines = [first, ...(second ? [second] : [])];
      const seconds = Math.max(...lines.map(secondsOf));
      const drawn = lines.map(({ name, samples }, i) => ({
        name,
        type: "line",
        showSymbol: false,
        data: samples.flatMap(({ from, ms, bytes }, k): [number, number | null][] => {
          const gap = k > 0 && from - samples[k - 1]!.ms > (ms - from) * 0.5 + 60;
          const point: [number, number] = [
            ms / 1e3,
            inUnit(bytes / 1e3 / Math.max(ms - from, 1), unit),
          ];
          return gap ? [[from / 1e3, null], point] : [point];
        }),
        lineStyle: {
          color: colour(i === 0 ? "flow" : "ink"),
          width: i === 0 ? 1.8 : 1.2,
          type: i === 0 ? "solid" : "dashed",
        },
        itemStyle: { color: colour(i === 0 ? "flow" : "ink") },
      }));
      return {
        tooltip: {
          ...tooltip,
          valueFormatter: (value: unknown) => `${formatRate(Number(value))} ${unit}`,
        },
        legend: second
          ? {
              top: 0,
              right: 8,
              textStyle: { color: colour("ink"), fontFamily: "Barlow Semi Condensed" },
            }
          : undefined,
        xAxis: {
          type: "value",
          min: 0,
          name: "seconds",
          nameLocation: "middle",
          nameGap: 22,
          ...axis,
          axisLabel: {
            ...(axis.axisLabel as object),
            formatter: (value: number) => formatNumber(value, seconds < FEW_SECONDS ? 1 : 0),
          },
        },
        yAxis: {
          type: "value",
          min: 0,
          name: unit,
          ...axis,
          axisLabel: {
            ...(axis.axisLabel as object),
            formatter: (value: number) => formatRate(value),
          },
        },
        series: drawn,
      };
    },
    [first, second, unit],
  );
  const lines = [first, ...(second ? [second] : [])];
  return (
    <LazyPlot
      label={label}
      option={option}
      out={{
        caption: {
          title: lines.map(({ name }) => name).join(" and "),
          note: `${label} In ${unit}.`,
        },
        rows: () => [
          ["run", "from, s", "to, s", "bytes"],
          ...lines.flatMap(({ name, samples }) =>
            samples.map(({ from, ms, bytes }) => [name, from / 1e3, ms / 1e3, bytes]),
          ),
        ],
      }}
    />
  );
}
