"use client";

import { useCallback } from "react";
import { formatIn, formatPercent, formatRate } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { LazyPlot } from "../charts/lazy-plot";
import { STROKES, type Look } from "../charts/plot";
import { useUnit } from "../frame/unit";
import { LABELS, type PictureProps } from "./picture-look";
import { noteOf } from "./table-rows";

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
            ...plain,
            name: "as fast as by itself",
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
                    ...plain,
                    name: `ceiling of ${enclosure}`,
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
                enclosure,
                drive,
                letter,
                Number(inUnit(native, unit).toPrecision(6)),
                Number(inUnit(observed, unit).toPrecision(6)),
                stated ? "stated" : "measured",
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
