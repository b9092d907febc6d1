import { markWords } from "@/core/run/mark";
import type { OpenTrace } from "@/core/study/open-trace";
import { formatNumber, formatRate } from "@/core/units/number";
import { inUnit, type RateUnit } from "@/core/units/rate";
import { STROKES, type Look } from "../charts/plot";
import { AXIS_NAMES, heightOf, placeOf, zeroOf } from "./axis";
import { ROW, rowsBelow, type Drawn, type View } from "./trace-rows";

/** Height of the whole, what stands above and below, and between two of its rows, pixels. */
const [WHOLE, ABOVE, BELOW, BETWEEN] = [400, 26, 42, 28];

/** The picture of one or several traces, with what the system showed meanwhile below it. */
export function traceOption(drawn: readonly Drawn[], view: View, look: Look) {
  const { colour, axis } = look;
  const { unit } = view;
  const rows = view.height === undefined ? rowsBelow(drawn, view) : [];
  const main = (view.height ?? WHOLE) - ABOVE - BELOW - rows.length * (ROW + BETWEEN);
  let top = ABOVE;
  const grids = [0, ...rows].map((_, i) => {
    const grid = { left: 62, right: 22, top, height: i === 0 ? main : ROW };
    top += grid.height + BETWEEN;
    return grid;
  });
  const last = grids.length - 1;
  const xAxis = grids.map((_, i) => ({
    ...axis,
    gridIndex: i,
    type: "value" as const,
    scale: view.alignment === "edge",
    min: view.range[0],
    max: view.range[1],
    splitLine: { show: false },
    axisLabel: {
      ...(axis.axisLabel as object),
      show: i === last,
      formatter: (value: number) => formatNumber(value, digitsOf(view.range)),
      showMinLabel: false,
      showMaxLabel: false,
    },
    ...(i === last
      ? { name: AXIS_NAMES[view.axis], nameLocation: "middle" as const, nameGap: 22 }
      : {}),
  }));
  const rate = view.axis === "sum" ? "GB" : view.axis === "ops" ? "requests a second" : unit;
  const yAxis = [rate, ...rows.map(({ name }) => name)].map((name, i) => ({
    ...axis,
    gridIndex: i,
    type: "value" as const,
    name,
    ...(i > 0
      ? { nameTextStyle: { ...(axis.nameTextStyle as object), align: "left" as const } }
      : {}),
    min: i === 0 ? 0 : undefined,
    scale: i > 0,
    splitNumber: i === 0 ? 5 : 2,
    ...(i === 0 && view.axis !== "sum" && view.axis !== "ops" ? { max: topOf(drawn, unit) } : {}),
    axisLabel: {
      ...(axis.axisLabel as object),
      showMaxLabel: i > 0,
      formatter: (value: number) => formatRate(value),
    },
  }));
  return {
    grid: grids,
    legend:
      drawn.length > 1
        ? {
            top: 0,
            right: 8,
            data: drawn.map(({ name }) => name),
            textStyle: { color: colour("ink"), fontFamily: "Barlow Semi Condensed" },
          }
        : undefined,
    tooltip: {
      ...look.tooltip,
      axisPointer: { type: "line", lineStyle: { color: colour("ink"), width: 1 } },
      formatter: (items: unknown) => pointed(items as Pointed[], view),
    },
    axisPointer: { link: [{ xAxisIndex: "all" }] },
    xAxis,
    yAxis,
    series: [
      ...drawn.flatMap((one, i) => mainSeries(one, i, drawn.length, view, look)),
      ...rows.flatMap(({ lines }, row) =>
        lines.map(({ name, points }, i) => ({
          name,
          type: "line",
          data: points,
          showSymbol: false,
          connectNulls: false,
          xAxisIndex: row + 1,
          yAxisIndex: row + 1,
          lineStyle: { color: colour("ink"), width: 1.2, type: STROKES[i % STROKES.length] },
          itemStyle: { color: colour("ink") },
        })),
      ),
    ],
  };
}

/** What a run's own line, its spread, its levels and its marks are drawn as. */
function mainSeries(
  { trace, name, places }: Drawn,
  i: number,
  of: number,
  view: View,
  { colour, ceiling }: Look,
) {
  const zero = zeroOf(trace, view.axis, view.alignment);
  const show = (mbps: number) => heightOf(mbps, view.axis, view.unit, trace);
  const points: [number, number | null][] = [];
  const band: { least: [number, number | null][]; over: [number, number | null][] } = {
    least: [],
    over: [],
  };
  let end = places[0]?.fromMs ?? 0;
  for (const place of places) {
    const x = placeOf(place, view.axis, zero);
    if (place.fromMs - end > 60 && view.axis !== "sum") {
      const at = x - (place.toMs - place.fromMs) / 1e3;
      points.push([at, null]);
      for (const side of [band.least, band.over]) side.push([at, null]);
    }
    end = place.toMs;
    points.push([x, view.axis === "sum" ? place.bytes / 1e9 : show(place.mean)]);
    band.least.push([x, show(place.least)]);
    band.over.push([x, show(place.most - place.least)]);
  }
  const spread = view.axis !== "sum" && of === 1;
  const look = { showSymbol: false, type: "line", symbol: "none" };
  const hidden = { ...look, silent: true, lineStyle: { opacity: 0 }, stack: `spread ${i}` };
  return [
    {
      ...look,
      name,
      data: points,
      z: 3,
      lineStyle: { color: colour("flow"), width: 1.6, type: STROKES[i % STROKES.length] },
      itemStyle: { color: colour("flow") },
      ...(i === 0 ? { markLine: linesOf(trace, view, zero, { colour, ceiling }) } : {}),
    },
    ...(spread
      ? [
          { ...hidden, name: "", data: band.least, tooltip: { show: false } },
          {
            ...hidden,
            name: "",
            data: band.over,
            tooltip: { show: false },
            areaStyle: { color: colour("flow"), opacity: 0.18 },
          },
        ]
      : []),
    ...(spread && trace.reading ? [levelLine(trace, view, zero, colour)] : []),
  ];
}

/** The levels as steps, in ink. */
function levelLine(trace: OpenTrace, view: View, zero: number, colour: Look["colour"]) {
  const x = (ms: number, bytes: number) =>
    view.axis === "bytes" ? (bytes - zero) / 1e9 : (ms - zero) / 1e3;
  const height = (mbps: number) => heightOf(mbps, view.axis, view.unit, trace);
  const data = trace.reading!.levels.flatMap((level): [number, number | null][] => [
    [x(level.fromMs, level.fromBytes), height(level.rateMBps)],
    [x(level.toMs, level.toBytes), height(level.rateMBps)],
    [x(level.toMs, level.toBytes), null],
  ]);
  return {
    name: "level",
    type: "line",
    data,
    showSymbol: false,
    z: 4,
    silent: true,
    tooltip: { show: false },
    lineStyle: { color: colour("ink"), width: 1.4 },
    itemStyle: { color: colour("ink") },
  };
}

/** The ceiling across, and a line down at each mark with its name. */
function linesOf(
  trace: OpenTrace,
  view: View,
  zero: number,
  { colour, ceiling }: Pick<Look, "colour" | "ceiling">,
) {
  const across =
    trace.ceiling && view.axis !== "sum" && view.axis !== "ops"
      ? ceiling(trace.ceiling.name, trace.ceiling.mbps, view.unit)
      : null;
  const marks = trace.reading?.marks ?? [];
  const down = marks
    .filter((mark, i) => i > 0 || mark.of === "happening")
    .slice(0, 40)
    .map((mark, i) => ({
      xAxis:
        view.axis === "bytes" ? (bytesAt(trace, mark.ms) - zero) / 1e9 : (mark.ms - zero) / 1e3,
      label: {
        formatter: `${markWords(mark)}${mark.corrected ? " ✎" : ""}`,
        position: "insideEndTop" as const,
        rotate: 0,
        align: "left" as const,
        // Names that follow close on each other stand at three heights.
        distance: [2 + 14 * (i % 3), 4],
        color: colour("ink"),
        backgroundColor: colour("sheet"),
        fontFamily: "Barlow Semi Condensed",
      },
      lineStyle: {
        color: colour("secondary"),
        type: mark.of === "level" ? ("solid" as const) : ("dotted" as const),
        width: 1,
      },
    }));
  return {
    ...(across ?? { symbol: "none", silent: true }),
    data: [...((across?.data as object[]) ?? []), ...down],
  };
}

/** Bytes moved up to a time, by the places that are drawn. */
function bytesAt({ places }: OpenTrace, ms: number): number {
  const place = places.find(({ toMs }) => toMs > ms);
  return place?.bytes ?? places.at(-1)?.bytes ?? 0;
}

function topOf(drawn: readonly Drawn[], unit: RateUnit): number {
  let most = 0;
  for (const { trace, places } of drawn) {
    // A spike of one sample may lie far above everything; the ceiling is shown where it is near.
    const peaks = places.map((place) => place.most).sort((a, b) => a - b);
    most = Math.max(most, peaks[Math.floor(peaks.length * 0.999)] ?? 0);
    if (trace.ceiling && trace.ceiling.mbps < 2.5 * most) most = Math.max(most, trace.ceiling.mbps);
  }
  return inUnit(most, unit) * 1.1 || 1;
}

const digitsOf = (range: View["range"]) => (range[1] - range[0] < 12 ? 2 : 0);

interface Pointed {
  seriesName: string;
  value: [number, number | null];
  seriesIndex: number;
}

/** Exact values under the cursor. Names are text: nothing of them is read as markup. */
function pointed(items: readonly Pointed[], { axis, unit }: View): HTMLElement | string {
  const [first] = items;
  if (!first) return "";
  const box = document.createElement("div");
  const line = (text: string) => {
    const row = document.createElement("div");
    row.textContent = text;
    box.append(row);
  };
  line(`${formatNumber(first.value[0], 2)} ${axis === "bytes" ? "GB" : "s"}`);
  for (const { seriesName, value } of items) {
    if (seriesName === "" || value[1] === null) continue;
    const what = /(°C|%)$/.test(seriesName)
      ? ""
      : ` ${axis === "sum" ? "GB" : axis === "ops" ? "a second" : unit}`;
    line(`${seriesName}: ${formatRate(value[1])}${what}`);
  }
  return box;
}
