"use client";

import { LineChart } from "echarts/charts";
import { GridComponent, MarkLineComponent, TooltipComponent } from "echarts/components";
import { init, use as register, type EChartsType } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import type { Run } from "@/core/study/measurement";
import { ratesOf } from "@/core/trace/rates";
import { formatRate } from "@/core/units/number";
import { useTheme } from "../frame/theme";

register([LineChart, GridComponent, TooltipComponent, MarkLineComponent, SVGRenderer]);

/** Lines told apart without colour: each repeat has its own stroke. */
const STROKES = ["solid", "dashed", "dotted"] as const;

/** Throughput over time, one line a repeat, with the ceiling it cannot exceed. */
export default function TraceChart({
  runs,
  ceiling,
  ceilingName,
  seconds,
}: {
  runs: Run[];
  ceiling: number | null;
  ceilingName: string;
  seconds: number;
}) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  const theme = useTheme();

  useEffect(() => {
    const element = box.current!;
    const made = init(element, null, { renderer: "svg" });
    chart.current = made;
    const observer = new ResizeObserver(() => made.resize());
    observer.observe(element);
    return () => {
      observer.disconnect();
      made.dispose();
      chart.current = null;
    };
  }, []);

  useEffect(() => {
    const style = getComputedStyle(document.documentElement);
    const token = (name: string) => style.getPropertyValue(name).trim();
    const mono = "IBM Plex Mono";
    const lines = runs.map((run) => ratesOf(run.samples));
    const top = Math.max(ceiling ?? 0, ...lines.flat().map(({ mbps }) => mbps)) * 1.08 || 1;
    const axis = {
      axisLine: { lineStyle: { color: token("--line") } },
      axisLabel: { color: token("--secondary"), fontFamily: mono, fontSize: 11 },
      splitLine: { lineStyle: { color: token("--line"), opacity: 0.6 } },
      nameTextStyle: { color: token("--secondary"), fontFamily: "Barlow Semi Condensed" },
    };
    chart.current?.setOption(
      {
        animation: false,
        grid: { left: 56, right: 16, top: 28, bottom: 34 },
        tooltip: {
          trigger: "axis",
          backgroundColor: token("--sheet"),
          borderColor: token("--line"),
          textStyle: { color: token("--ink"), fontFamily: mono, fontSize: 12 },
          valueFormatter: (value: unknown) => `${formatRate(Number(value))} MB/s`,
        },
        xAxis: {
          type: "value",
          min: 0,
          max: seconds,
          name: "seconds",
          nameLocation: "middle",
          nameGap: 22,
          ...axis,
        },
        yAxis: {
          type: "value",
          min: 0,
          max: top,
          name: "MB/s",
          ...axis,
          axisLabel: {
            ...axis.axisLabel,
            showMaxLabel: false,
            formatter: (value: number) => formatRate(value),
          },
        },
        series: runs.map((run, i) => ({
          name: `repeat ${run.repeat + 1}`,
          type: "line",
          showSymbol: false,
          data: lines[i]!.map(({ ms, mbps }) => [Number((ms / 1e3).toFixed(2)), mbps]),
          lineStyle: { color: token("--flow"), width: 1.8, type: STROKES[i % STROKES.length] },
          itemStyle: { color: token("--flow") },
          ...(i === 0 && ceiling !== null
            ? {
                markLine: {
                  symbol: "none",
                  silent: true,
                  lineStyle: { color: token("--ink"), type: "solid", width: 1.2 },
                  label: {
                    formatter: `ceiling: ${ceilingName}, ${formatRate(ceiling)}`,
                    position: "insideEndTop",
                    backgroundColor: token("--sheet"),
                    padding: [1, 4],
                    color: token("--ink"),
                    fontFamily: "Barlow Semi Condensed",
                  },
                  data: [{ yAxis: ceiling }],
                },
              }
            : {}),
        })),
      },
      { replaceMerge: ["series"] },
    );
  }, [runs, ceiling, ceilingName, seconds, theme]);

  return (
    <div
      ref={box}
      role="img"
      aria-label={`Throughput over time, ${runs.length} repeats; the table below has the values.`}
      className="h-60 w-full"
    />
  );
}
