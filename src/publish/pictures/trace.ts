import { LineChart } from "echarts/charts";
import { GridComponent, MarkLineComponent } from "echarts/components";
import { init, use as register } from "echarts/core";
import { SVGRenderer } from "echarts/renderers";
import type { OpenTrace } from "@/core/study/open-trace";
import { formatNumber, formatRate } from "@/core/units/number";
import { inUnit, type RateUnit } from "@/core/units/rate";
import { FONTS } from "../theme";
import { WIDTH } from "./rigs";

register([LineChart, GridComponent, MarkLineComponent, SVGRenderer]);

const [MAIN, BELOW] = [150, 64];
/** Samples further apart than this are a gap, ms. */
const GAP_MS = 60;

/** One trace as an SVG document: rate over time with its extremes, temperature below; colours by role. */
export function tracePicture(
  { trace, unit }: { trace: OpenTrace; unit: RateUnit },
  alt: string,
): { svg: string; width: number; height: number } {
  const { readings, startMs, endMs, reading } = trace;
  const warm = readings.flatMap(({ ms, celsius }) => {
    const all = Object.values(celsius);
    return all.length > 0 ? [[(ms - startMs) / 1e3, Math.max(...all)]] : [];
  });
  const height = MAIN + (warm.length > 1 ? BELOW : 0) + 36;
  const chart = init(null, null, { renderer: "svg", ssr: true, width: WIDTH, height });
  const label = { color: "var(--secondary)", fontFamily: FONTS.mono, fontSize: 11 };
  const axis = {
    type: "value" as const,
    axisLine: { show: true, lineStyle: { color: "var(--line)" } },
    axisTick: { lineStyle: { color: "var(--line)" } },
    axisLabel: label,
    splitLine: { lineStyle: { color: "var(--line)" } },
    nameTextStyle: { color: "var(--secondary)", fontFamily: FONTS.sans, fontSize: 12 },
  };
  const seconds = (endMs - startMs) / 1e3;
  const digits = seconds < 20 ? 1 : 0;
  const grids = warm.length > 1 ? [0, 1] : [0];
  chart.setOption({
    animation: false,
    grid: grids.map((i) => ({
      left: 62,
      right: 14,
      top: i === 0 ? 26 : MAIN + 26,
      height: i === 0 ? MAIN - 30 : BELOW - 28,
    })),
    xAxis: grids.map((i) => ({
      ...axis,
      gridIndex: i,
      min: 0,
      max: seconds,
      splitLine: { show: false },
      axisLabel: {
        ...label,
        show: i === grids.length - 1,
        showMaxLabel: false,
        formatter: (value: number) => formatNumber(value, digits),
      },
      ...(i === grids.length - 1
        ? { name: "seconds", nameLocation: "middle" as const, nameGap: 22 }
        : {}),
    })),
    yAxis: grids.map((i) => ({
      ...axis,
      gridIndex: i,
      name: i === 0 ? unit : "°C",
      scale: i > 0,
      splitNumber: i === 0 ? 4 : 2,
      axisLabel: { ...label, formatter: (value: number) => formatRate(value) },
    })),
    series: [
      ...series(trace, unit, reading),
      ...(warm.length > 1
        ? [
            {
              type: "line",
              xAxisIndex: 1,
              yAxisIndex: 1,
              data: warm,
              showSymbol: false,
              lineStyle: { color: "var(--ink)", width: 1.2 },
              itemStyle: { color: "var(--ink)" },
            },
          ]
        : []),
    ],
  });
  const drawn = chart.renderToSVGString();
  chart.dispose();
  const svg = drawn.replace(/^<svg /, `<svg role="img" aria-label="${attribute(alt)}" `);
  return { svg, width: WIDTH, height };
}

function series(
  { places, startMs, endMs, ceiling }: OpenTrace,
  unit: RateUnit,
  reading: OpenTrace["reading"],
) {
  const mean: [number, number | null][] = [];
  const least: typeof mean = [];
  const over: typeof mean = [];
  let end = places[0]?.fromMs ?? 0;
  for (const place of places) {
    const x = ((place.fromMs + place.toMs) / 2 - startMs) / 1e3;
    if (place.fromMs - end > GAP_MS)
      for (const all of [mean, least, over]) all.push([x - 1e-3, null]);
    end = place.toMs;
    mean.push([x, inUnit(place.mean, unit)]);
    least.push([x, inUnit(place.least, unit)]);
    over.push([x, inUnit(place.most - place.least, unit)]);
  }
  const plain = { type: "line", showSymbol: false, symbol: "none" };
  const hidden = {
    ...plain,
    stack: "spread",
    lineStyle: { opacity: 0 },
    itemStyle: { opacity: 0 },
  };
  const most = Math.max(...places.map((place) => place.most), 1);
  // A ceiling far above what flowed would press the trace flat.
  const near = ceiling && ceiling.mbps < most * 2.5 ? [ceiling] : [];
  const lines = [
    ...near.map(({ mbps, name }) => ({
      yAxis: inUnit(mbps, unit),
      lineStyle: { color: "var(--ink)", type: "solid" },
      label: { formatter: `ceiling: ${name}`, position: "insideEndTop" },
    })),
    // The level that it begins with needs no mark.
    ...(reading?.marks ?? [])
      .filter(({ ms }) => ms > startMs + 0.01 * (endMs - startMs))
      .slice(0, 8)
      .map(({ ms, name }) => ({
        xAxis: (ms - startMs) / 1e3,
        lineStyle: { color: "var(--ink)", type: "dashed" },
        label: { formatter: name, position: "end" },
      })),
  ];
  return [
    { ...hidden, data: least },
    { ...hidden, data: over, areaStyle: { color: "var(--hatch)", opacity: 0.8 } },
    {
      ...plain,
      data: mean,
      z: 3,
      lineStyle: { color: "var(--flow)", width: 1.6 },
      itemStyle: { color: "var(--flow)" },
      markLine: {
        symbol: "none",
        silent: true,
        data: lines,
        label: { color: "var(--ink)", fontFamily: FONTS.sans, fontSize: 11 },
      },
    },
  ];
}

const attribute = (text: string) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
