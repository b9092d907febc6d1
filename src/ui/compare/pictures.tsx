"use client";

import { useCallback } from "react";
import type { Question } from "@/core/compare/question";
import type { ShownComparison } from "@/core/compare/shown";
import {
  formatIn,
  formatMicroseconds,
  formatNumber,
  formatPercent,
  formatRate,
} from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { DOING, inUnit } from "@/core/units/rate";
import { LazyPlot } from "../charts/lazy-plot";
import { STROKES, type Look } from "../charts/plot";
import { useUnit } from "../frame/unit";
import { noteOf, tableRows } from "./table-rows";

interface PictureProps {
  shown: ShownComparison;
  question: Question;
}

const LABELS = "Barlow Semi Condensed";
/** Bars beyond these would be too thin to be told apart. */
const MOST = 40;
/** Writing is hatched everywhere. */
const hatched = (look: Look) => ({
  symbol: "rect",
  dashArrayX: [1, 0],
  dashArrayY: [2, 3],
  rotation: -Math.PI / 4,
  color: look.colour("sheet"),
});

/** Bars with a mark for the ceiling and one for what is claimed. */
export function Bars({ shown, question }: PictureProps) {
  const unit = useUnit();
  const rows = shown.rows.slice(0, MOST);
  const option = useCallback(
    (look: Look) => {
      const { colour, axis, tooltip } = look;
      const show = (mbps: number | null | undefined) =>
        mbps === null || mbps === undefined ? null : inUnit(mbps, unit);
      const ways = shown.columns;
      return {
        grid: { left: 62, right: 20, top: 34, bottom: rows.length > 12 ? 60 : 40 },
        legend: {
          top: 0,
          right: 8,
          textStyle: { color: colour("ink"), fontFamily: LABELS },
          data: [...ways.map(nameOf), "ceiling", "claimed"],
        },
        tooltip: {
          ...tooltip,
          valueFormatter: (value: unknown) =>
            value === null || value === undefined
              ? "—"
              : `${formatNumber(Number(value), 1)} ${unit}`,
        },
        xAxis: {
          ...axis,
          type: "category",
          data: rows.map(({ letter, name }) => (rows.length > 12 ? letter : `${letter}  ${name}`)),
          axisLabel: {
            ...(axis.axisLabel as object),
            fontFamily: LABELS,
            interval: 0,
            width: Math.max(24, 1060 / rows.length - 8),
            overflow: "truncate",
          },
        },
        yAxis: { ...axis, type: "value", name: unit, min: 0 },
        series: [
          ...ways.map((way, i) => ({
            name: nameOf(way),
            type: "bar",
            barMaxWidth: 46,
            data: rows.map(({ cells }) => show(cells[i]?.repeats.median)),
            itemStyle: {
              color: colour("flow"),
              // Several drills are told apart by how dark they are, directions by the hatch.
              opacity: 1 - 0.22 * (Math.floor(i / 2) % 4),
              ...(way.direction === "write" ? { decal: hatched(look) } : {}),
            },
          })),
          ...(["ceiling", "claimed"] as const).map((name) => ({
            name,
            type: "scatter",
            symbol: name === "ceiling" ? "rect" : "diamond",
            symbolSize: name === "ceiling" ? [30, 2] : 9,
            z: 5,
            data: rows.map(({ cells }) => {
              const cell = cells.find((one) => one !== null);
              return show(name === "ceiling" ? cell?.ceiling : cell?.claim?.mbps);
            }),
            itemStyle: { color: colour("ink") },
          })),
        ],
      };
    },
    [shown, rows, unit],
  );
  return (
    <>
      <LazyPlot
        label="Rates of the rigs as bars, with a line for each ceiling and a diamond for what is claimed."
        option={option}
        className="h-[400px] w-full"
        out={{
          caption: { title: titleOf(shown), note: noteOf(shown, question, unit) },
          rows: () => tableRows(shown, question, unit),
        }}
      />
      {shown.rows.length > MOST && (
        <p className="text-sm text-secondary">
          The first {MOST} of {shown.rows.length} rigs; the table has all.
        </p>
      )}
    </>
  );
}

const nameOf = ({ title, direction }: ShownComparison["columns"][number]) =>
  `${title}, ${DOING[direction]}`;

export const titleOf = ({ columns, rows }: ShownComparison): string =>
  columns.length === 1
    ? `${columns[0]!.title}, ${DOING[columns[0]!.direction]}, through ${rows.length} rigs`
    : `${new Set(columns.map(({ drill }) => drill)).size} drills through ${rows.length} rigs`;

/** Each repeat as a point: whether they agree is seen at once. */
export function RepeatPoints({ shown, question }: PictureProps) {
  const unit = useUnit();
  const rows = shown.rows.slice(0, MOST);
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => ({
      grid: { left: 62, right: 20, top: 34, bottom: 40 },
      legend: {
        top: 0,
        right: 8,
        textStyle: { color: colour("ink"), fontFamily: LABELS },
      },
      tooltip: {
        ...tooltip,
        trigger: "item",
        valueFormatter: (value: unknown) => `${formatNumber(Number(value), 1)} ${unit}`,
      },
      xAxis: {
        ...axis,
        type: "category",
        data: rows.map(({ letter, name }) => (rows.length > 12 ? letter : `${letter}  ${name}`)),
        axisLabel: {
          ...(axis.axisLabel as object),
          fontFamily: LABELS,
          interval: 0,
          width: Math.max(24, 1060 / rows.length - 8),
          overflow: "truncate",
        },
      },
      yAxis: { ...axis, type: "value", name: unit, scale: true },
      series: shown.columns.map((column, i) => ({
        name: nameOf(column),
        type: "scatter",
        symbol: ["circle", "emptyCircle", "diamond", "triangle", "rect"][i % 5],
        symbolSize: 9,
        data: rows.flatMap(({ cells }, at) =>
          (cells[i]?.runs ?? [])
            .filter(({ leftOut }) => leftOut === null)
            .map(({ mbps }) => [at, inUnit(mbps, unit)]),
        ),
        itemStyle: { color: colour("flow") },
      })),
    }),
    [shown, rows, unit],
  );
  return (
    <LazyPlot
      label="Every repeat of every rig as a point."
      option={option}
      className="h-[400px] w-full"
      out={{
        caption: { title: `Repeats: ${titleOf(shown)}`, note: noteOf(shown, question, unit) },
        rows: () => [
          ["rig", "name", "drill", "direction", "run", unit, "left out"],
          ...shown.rows.flatMap((row) =>
            row.cells.flatMap((cell, i) =>
              (cell?.runs ?? []).map((run) => [
                ...[row.letter, row.name, shown.columns[i]!.title],
                ...[DOING[shown.columns[i]!.direction], run.id],
                ...[Number(inUnit(run.mbps, unit).toPrecision(6)), run.leftOut],
              ]),
            ),
          ),
        ],
      }}
    />
  );
}

/** What drives do by themselves against what they do in an enclosure: its plateau lies off the diagonal. */
export function NativePicture({ shown, question }: PictureProps) {
  const unit = useUnit();
  const boxes = shown.native;
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => {
      const show = (mbps: number) => inUnit(mbps, unit);
      const most = Math.max(
        1,
        ...boxes.flatMap(({ points }) =>
          points.flatMap(({ native, observed }) => [native, observed]),
        ),
      );
      const top = niceAbove(show(most));
      const plain = { showSymbol: false, type: "line", silent: true, symbol: "none" };
      return {
        grid: { left: 72, right: 30, top: 34, bottom: 46 },
        legend: { top: 0, right: 8, textStyle: { color: colour("ink"), fontFamily: LABELS } },
        tooltip: { ...tooltip, trigger: "item" },
        xAxis: {
          ...axis,
          type: "value",
          min: 0,
          max: top,
          name: `by itself, ${unit}`,
          nameLocation: "middle",
          nameGap: 26,
          axisLabel: { ...(axis.axisLabel as object), formatter: (v: number) => formatRate(v) },
        },
        yAxis: {
          ...axis,
          type: "value",
          min: 0,
          max: top,
          name: `in the enclosure, ${unit}`,
          axisLabel: { ...(axis.axisLabel as object), formatter: (v: number) => formatRate(v) },
        },
        series: [
          {
            ...{ ...plain, name: "as fast as by itself" },
            data: [
              [0, 0],
              [top, top],
            ],
            lineStyle: { color: colour("hatch"), width: 1.4 },
            itemStyle: { color: colour("hatch") },
          },
          ...boxes.flatMap(({ enclosure, points, fit }, i) => [
            {
              name: enclosure,
              type: "scatter",
              symbol: ["circle", "diamond", "triangle", "rect"][i % 4],
              symbolSize: 11,
              data: points.map(({ native, observed, drive }) => ({
                value: [show(native), show(observed)],
                name: drive,
              })),
              itemStyle: { color: colour("flow") },
              label: {
                show: true,
                position: "bottom",
                formatter: "{b}",
                color: colour("secondary"),
                fontFamily: LABELS,
              },
            },
            ...(fit?.ceiling
              ? [
                  {
                    ...{ ...plain, name: `ceiling of ${enclosure}` },
                    data: [
                      [show(fit.ceiling), show(fit.ceiling)],
                      [top, show(fit.ceiling)],
                    ],
                    lineStyle: { color: colour("ink"), width: 1.4, type: STROKES[i % 3] },
                    itemStyle: { color: colour("ink") },
                  },
                ]
              : []),
          ]),
        ],
      };
    },
    [boxes, unit],
  );
  if (boxes.length === 0)
    return (
      <p className="py-6 text-secondary">
        Nothing to hold against each other: no drive of these rigs was measured without an
        enclosure, and none says how fast it is by itself.
      </p>
    );
  const words = (mbps: number) => `${formatIn(mbps, unit)} ${unit}`;
  return (
    <>
      <LazyPlot
        label="What each drive does by itself against what it does in each enclosure."
        option={option}
        className="h-[420px] w-full"
        out={{
          caption: { title: "Native against observed", note: noteOf(shown, question, unit) },
          rows: () => [
            ["enclosure", "drive", "rig", `by itself, ${unit}`, `in it, ${unit}`, "by itself is"],
            ...boxes.flatMap(({ enclosure, points }) =>
              points.map(({ drive, letter, native, observed, stated }) => [
                ...[enclosure, drive, letter, Number(inUnit(native, unit).toPrecision(6))],
                ...[Number(inUnit(observed, unit).toPrecision(6)), stated ? "stated" : "measured"],
              ]),
            ),
          ],
        }}
      />
      <ul className="mt-1 list-disc pl-5">
        {boxes.map(({ enclosure, fit, points }) => (
          <li key={enclosure}>
            <b>{enclosure}</b>:{" "}
            {!fit
              ? "one drive only; two that differ would show whether it has a ceiling of its own"
              : fit.ceiling === null
                ? `no ceiling of its own was shown; it carries at least ${words(fit.low)}`
                : `a ceiling of its own at ${words(fit.ceiling)} (95 %: ${words(fit.low)} to ${words(fit.high!)}); no point lies further from it than ${formatPercent(fit.worst)}`}
            {points.some(({ stated }) => stated) &&
              "; how fast some drives are by themselves is stated, not measured"}
            .
          </li>
        ))}
      </ul>
    </>
  );
}

/** The next round number above: 1, 2 or 5 times a power of ten. */
function niceAbove(value: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(value, 1e-9)));
  return [1, 2, 4, 5, 8, 10].map((of) => of * power).find((step) => step >= value)!;
}

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
        <LadderPicture key={by} {...{ shown, question, by, unit }} />
      ))}
    </div>
  );
}

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
                  showSymbol: false,
                  data: places.map((at) => {
                    if (fit.by === "block")
                      return inUnit(at / (fit.overheadUs + at / fit.asymptoteMBps), unit);
                    return Math.min(fit.singleIops * at, fit.plateauIops);
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
                ...[letter, name, at, Number(inUnit(mbps, unit).toPrecision(6))],
                Number(iops.toPrecision(6)),
              ]),
            ),
          ],
        }}
      />
      <ul className="mt-1 list-disc pl-5">
        {ladders.map(({ letter, fit }) => (
          <li key={letter}>
            <span className="font-serif italic">{letter}</span>:{" "}
            {!fit
              ? "no curve fits: larger requests took no longer than small ones"
              : fit.by === "block"
                ? `each request costs ${formatMicroseconds(fit.overheadUs)} beside its bytes, which go at up to ${words(fit.asymptoteMBps)}; half of that is reached with ${formatSize(fit.halfRateBytes)}. The curve misses no step by more than ${formatPercent(fit.worst)}.`
                : fit.rises
                  ? `one at a time ${formatNumber(fit.singleIops)} requests a second, at most ${formatNumber(fit.plateauIops)}; the knee is at ${formatNumber(fit.kneeDepth, 1)} in flight.`
                  : `no rise with more in flight (${formatNumber(fit.singleIops)} a second at one, ${formatNumber(fit.plateauIops)} at most): the signature of a path without queueing.`}
          </li>
        ))}
      </ul>
    </div>
  );
}
