"use client";

import { BarChart, LineChart, ScatterChart } from "echarts/charts";
import {
  DataZoomInsideComponent,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
} from "echarts/components";
import { init, use as register, type EChartsCoreOption, type EChartsType } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import { useEffect, useEffectEvent, useRef } from "react";
import { formatIn, formatNumber } from "@/core/units/number";
import { inUnit, type RateUnit } from "@/core/units/rate";
import { inTheme, type Theme } from "../out/in-theme";
import { useTheme } from "../frame/theme";
import type { Drawn, Out } from "../out/drawn";
import { OutMenu } from "../out/out-menu";

register([
  LineChart,
  BarChart,
  ScatterChart,
  DataZoomInsideComponent,
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
  ceiling(name: string, mbps: number, unit?: RateUnit): Record<string, unknown>;
}

const LABELS = "Barlow Semi Condensed";
const FIGURES = "IBM Plex Mono";

/** A figure along an axis, as figures are written everywhere; names of a category axis as they are. */
const axisWords = (value: number | string): string =>
  typeof value === "string" ? value : formatNumber(value, decimalsOf(value));

const decimalsOf = (value: number) => Math.min(3, String(value).split(".")[1]?.length ?? 0);

function lookOf(style: CSSStyleDeclaration): Look {
  const colour = (role: string) => style.getPropertyValue(`--${role}`).trim();
  const words = { color: colour("secondary"), fontFamily: LABELS };
  return {
    colour,
    axis: {
      axisLine: { lineStyle: { color: colour("line") } },
      axisLabel: {
        color: colour("secondary"),
        fontFamily: FIGURES,
        fontSize: 11,
        formatter: axisWords,
      },
      splitLine: { lineStyle: { color: colour("line"), opacity: 0.6 } },
      nameTextStyle: words,
    },
    tooltip: {
      trigger: "axis",
      backgroundColor: colour("sheet"),
      borderColor: colour("line"),
      textStyle: { color: colour("ink"), fontFamily: FIGURES, fontSize: 12 },
    },
    ceiling: (name, mbps, unit = "MB/s") => ({
      symbol: "none",
      silent: true,
      lineStyle: { color: colour("ink"), type: "solid", width: 1.2 },
      label: {
        formatter: `ceiling: ${name}, ${formatIn(mbps, unit)}`,
        position: "insideEndTop",
        backgroundColor: colour("sheet"),
        padding: [1, 4],
        color: colour("ink"),
        fontFamily: LABELS,
      },
      data: [{ yAxis: inUnit(mbps, unit) }],
    }),
  };
}

/** What every chart begins with. */
const COMMON = { animation: false, grid: { left: 60, right: 20, top: 30, bottom: 38 } };

/** A chart as it leaves the program: in a theme, whatever theme the page is in. */
function drawnOf(
  option: (look: Look) => EChartsCoreOption,
  width: number,
  height: number,
  theme: Theme = "light",
): Drawn {
  return inTheme(theme, (element) => {
    const chart = init(null, null, { renderer: "svg", ssr: true, width, height });
    // The tokens are there as long as the element is: all of it is drawn meanwhile.
    chart.setOption({ ...COMMON, ...option(lookOf(getComputedStyle(element))) });
    const svg = chart.renderToSVGString();
    chart.dispose();
    return { svg, width, height };
  });
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
  height,
  out,
  slideOption,
  onChart,
}: {
  /** What it shows, for those who do not see it; the values stand in a table beside it. */
  label: string;
  option: (look: Look) => EChartsCoreOption;
  className?: string;
  /** Pixels, where how much is drawn decides it. */
  height?: number;
  /** How it is saved; left out where it is not. */
  out?: Out;
  /** What is drawn on a picture for a screen, of so many pixels, where that is not the same. */
  slideOption?: (look: Look, height: number) => EChartsCoreOption;
  /** Told of the chart once it is there, for what can be done with it by hand. */
  onChart?: (chart: EChartsType) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  const theme = useTheme();
  const tell = useEffectEvent((made: EChartsType) => onChart?.(made));

  useEffect(() => {
    const element = box.current!;
    const made = init(element, null, { renderer: "svg" });
    chart.current = made;
    tell(made);
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
    // Rows may come and go, and their axes with them.
    const replaceMerge = ["series", "grid", "xAxis", "yAxis"];
    chart.current?.setOption({ ...COMMON, ...option(look) }, { replaceMerge });
  }, [option, theme]);

  const picture = (
    <div ref={box} role="img" aria-label={label} className={className} style={{ height }} />
  );
  if (!out) return picture;
  const drawn = () => {
    const { clientWidth, clientHeight } = box.current!;
    return drawnOf(option, clientWidth, clientHeight);
  };
  return (
    <div>
      <div className="-mb-1 flex justify-end">
        <OutMenu
          caption={out.caption}
          drawn={drawn}
          rows={out.rows}
          slide={() => ({
            statement: out.statement ?? out.caption.title,
            rows: [],
            chart: (theme, width, height) =>
              drawnOf(
                slideOption ? (look) => slideOption(look, height) : option,
                width,
                height,
                theme,
              ),
            source: `${out.caption.note} Made with Nerrit.`,
          })}
        />
      </div>
      {picture}
    </div>
  );
}
