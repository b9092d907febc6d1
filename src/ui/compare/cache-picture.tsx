"use client";

import { useCallback } from "react";
import { cacheAt } from "@/core/cache/fit";
import { tellFit } from "@/core/compare/cache-words";
import type { CacheShown } from "@/core/compare/caches";
import { formatNumber } from "@/core/units/number";
import { LazyPlot } from "../charts/lazy-plot";
import type { Look } from "../charts/plot";
import { LABELS } from "./picture-look";

const GB = 1e9;
/** Points of the line: enough for its bend to be where it is. */
const STEPS = 60;

/** A drive's cache over the space that was free, with the line through the fills. */
export function CachePicture({ cache }: { cache: CacheShown }) {
  const { drive, fills, fit } = cache;
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => {
      const most = Math.max(...fills.map(({ freeBytes }) => freeBytes));
      const line = fit
        ? Array.from({ length: STEPS + 1 }, (_, i) => {
            const free = (most * i) / STEPS;
            return [free / GB, cacheAt(fit, free) / GB];
          })
        : [];
      const dots = (edge: boolean) =>
        fills
          .filter((fill) => fill.edge === edge)
          .map(({ freeBytes, cacheBytes, letter }) => ({
            value: [freeBytes / GB, cacheBytes / GB],
            name: letter,
          }));
      const size = (value: number) =>
        formatNumber(value, value === 0 || value >= 10 ? 0 : value < 1 ? 2 : 1);
      return {
        grid: { left: 64, right: 24, top: 52, bottom: 46 },
        legend: { top: 0, right: 8, textStyle: { color: colour("ink"), fontFamily: LABELS } },
        tooltip: { ...tooltip, trigger: "item" },
        xAxis: {
          ...axis,
          type: "value",
          min: 0,
          name: "free space, GB",
          nameLocation: "middle",
          nameGap: 26,
          axisLabel: { ...(axis.axisLabel as object), formatter: size },
        },
        yAxis: {
          ...axis,
          type: "value",
          min: 0,
          name: "cache, GB",
          axisLabel: { ...(axis.axisLabel as object), formatter: size },
        },
        series: [
          {
            name: "line through the fills",
            type: "line",
            symbol: "none",
            silent: true,
            data: line,
            lineStyle: { color: colour("ink"), width: 1.4 },
            itemStyle: { color: colour("ink") },
          },
          {
            name: "end of the cache",
            type: "scatter",
            symbolSize: 11,
            data: dots(true),
            itemStyle: { color: colour("flow") },
          },
          {
            name: "no end met: at least",
            type: "scatter",
            symbol: "triangle",
            symbolSize: 11,
            data: dots(false),
            itemStyle: { color: "transparent", borderColor: colour("flow"), borderWidth: 1.6 },
          },
        ].filter(({ data }) => data.length > 0),
      };
    },
    [fills, fit],
  );
  return (
    <LazyPlot
      label={`Cache of ${drive} over the free space`}
      option={option}
      className="h-[280px] w-full"
      out={{
        caption: {
          title: `Cache of ${drive} against free space`,
          note: fit ? tellFit(fit) : "Fills at one level only.",
        },
        rows: () => [
          ["rig", "free, bytes", "cache, bytes", "end met", "full rate, MB/s", "after it, MB/s"],
          ...fills.map(({ letter, freeBytes, cacheBytes, edge, fullMBps, afterMBps }) => [
            letter,
            freeBytes,
            cacheBytes,
            edge ? "yes" : "no",
            Number(fullMBps.toPrecision(6)),
            afterMBps === null ? "" : Number(afterMBps.toPrecision(6)),
          ]),
        ],
      }}
    />
  );
}
