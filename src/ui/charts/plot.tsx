"use client";

import { BarChart, LineChart } from "echarts/charts";
import {
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
} from "echarts/components";
import { init, use as register, type EChartsCoreOption, type EChartsType } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useRef } from "react";
import { formatRate } from "@/core/units/number";
import { useTheme } from "../frame/theme";

register([
  LineChart,
  BarChart,
  GridComponent,
  LegendComponent,
  TooltipComponent,
  MarkLineComponent,
  SVGRenderer,
]);

/** Lines told apart without colour. */
export const STROKES = ["solid", "dashed", "dotted"] as const;

/** The look that all charts share, from the theme's tokens. */
export interface Look {
  /** A colour of the theme, by the name of its role: "flow". */
  colour(role: string): string;
  axis: Record<string, unknown>;
  tooltip: Record<string, unknown>;
  /** A line across at a rate, with its name on it. */
  ceiling(name: string, mbps: number): Record<string, unknown>;
}

const LABELS = "Barlow Semi Condensed";
const FIGURES = "IBM Plex Mono";

function lookOf(style: CSSStyleDeclaration): Look {
  const colour = (role: string) => style.getPropertyValue(`--${role}`).trim();
  const words = { color: colour("secondary"), fontFamily: LABELS };
  return {
    colour,
    axis: {
      axisLine: { lineStyle: { color: colour("line") } },
      axisLabel: { color: colour("secondary"), fontFamily: FIGURES, fontSize: 11 },
      splitLine: { lineStyle: { color: colour("line"), opacity: 0.6 } },
      nameTextStyle: words,
    },
    tooltip: {
      trigger: "axis",
      backgroundColor: colour("sheet"),
      borderColor: colour("line"),
      textStyle: { color: colour("ink"), fontFamily: FIGURES, fontSize: 12 },
    },
    ceiling: (name, mbps) => ({
      symbol: "none",
      silent: true,
      lineStyle: { color: colour("ink"), type: "solid", width: 1.2 },
      label: {
        formatter: `ceiling: ${name}, ${formatRate(mbps)}`,
        position: "insideEndTop",
        backgroundColor: colour("sheet"),
        padding: [1, 4],
        color: colour("ink"),
        fontFamily: LABELS,
      },
      data: [{ yAxis: mbps }],
    }),
  };
}

/**
 * A chart in our own look, as large as its place. Loaded only where there is one to be seen.
 *
 * @param option builds what is drawn; a new function draws anew
 */
export default function Plot({
  label,
  option,
  className = "h-60 w-full",
}: {
  /** What it shows, for those who do not see it; the values stand in a table beside it. */
  label: string;
  option: (look: Look) => EChartsCoreOption;
  className?: string;
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
    const look = lookOf(getComputedStyle(document.documentElement));
    chart.current?.setOption(
      { animation: false, grid: { left: 60, right: 20, top: 30, bottom: 38 }, ...option(look) },
      { replaceMerge: ["series"] },
    );
  }, [option, theme]);

  return <div ref={box} role="img" aria-label={label} className={className} />;
}
