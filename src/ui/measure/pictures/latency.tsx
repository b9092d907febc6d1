"use client";

import { useCallback, useMemo } from "react";
import type { StepResult } from "@/core/run/result";
import { BUCKETS, middleOf, percentiles, unpackHistogram } from "@/core/stats/histogram";
import { formatMicroseconds, formatNumber } from "@/core/units/number";
import { LazyPlot } from "../../charts/lazy-plot";
import type { Look } from "../../charts/plot";
import type { Caption } from "../../out/framed-svg";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";

/** Columns of the picture for each factor of ten in time. */
const PER_DECADE = 12;

/** Request times as a distribution, each way, and their percentiles. */
export function LatencyPicture({
  step,
  caption,
  beside = [],
}: {
  step: StepResult;
  /** Further rows of the table: what they are, and a histogram as `packHistogram` writes it. */
  beside?: readonly { what: string; histogram: string }[];
  /** What stands on the picture when it is saved. */
  caption: Caption;
}) {
  const { read, write } = step;
  const ways = useMemo(
    () => [
      ...(read ? [{ way: "read" as const, ...read }] : []),
      ...(write ? [{ way: "write" as const, ...write }] : []),
    ],
    [read, write],
  );
  const option = useCallback(
    ({ colour, axis, tooltip }: Look) => {
      const each = ways.map(({ histogram }) => columnsOf(unpackHistogram(histogram)));
      const places = [...new Set(each.flatMap((columns) => [...columns.keys()]))].sort(
        (a, b) => a - b,
      );
      const [first = 0, last = 0] = [places[0], places.at(-1)];
      const all = Array.from({ length: last - first + 1 }, (_, i) => first + i);
      return {
        tooltip: {
          ...tooltip,
          valueFormatter: (value: unknown) => `${formatNumber(Number(value))} requests`,
        },
        xAxis: {
          type: "category",
          name: "time of a request",
          nameLocation: "middle",
          nameGap: 24,
          data: all.map((place) => formatMicroseconds(10 ** (place / PER_DECADE) / 1e3)),
          ...axis,
        },
        yAxis: {
          type: "log",
          name: "requests",
          min: 1,
          ...axis,
          axisLabel: {
            ...(axis.axisLabel as object),
            formatter: (value: number) => formatNumber(value),
          },
        },
        series: ways.map(({ way }, i) => ({
          name: way === "read" ? "reading" : "writing",
          type: "bar",
          barGap: 0,
          data: all.map((place) => each[i]!.get(place) ?? null),
          itemStyle: {
            color: colour("flow"),
            // Writing is hatched everywhere.
            ...(way === "write"
              ? {
                  decal: {
                    symbol: "rect",
                    dashArrayX: [1, 0],
                    dashArrayY: [2, 3],
                    rotation: -Math.PI / 4,
                    color: colour("sheet"),
                  },
                }
              : {}),
          },
        })),
      };
    },
    [ways],
  );
  if (ways.length === 0) return null;
  return (
    <div className="mt-2">
      <LazyPlot
        label="How many requests took how long; the table below has the percentiles."
        option={option}
        className="h-52 w-full"
        out={{
          caption: { ...caption, title: `${caption.title}: how long requests took` },
          rows: () => [
            [
              "direction",
              "p50, µs",
              "p95, µs",
              "p99, µs",
              "p99.9, µs",
              "p99.99, µs",
              "longest, µs",
            ],
            ...ways.map(({ way, p50, p95, p99, p999, p9999, max }) => [
              way === "read" ? "reading" : "writing",
              p50,
              p95,
              p99,
              p999,
              p9999,
              max,
            ]),
          ],
        }}
      />
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>request times</th>
            {["p50", "p95", "p99", "p99.9", "p99.99", "longest"].map((name) => (
              <th key={name} className={HEAD_RIGHT}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ways.map(({ way, p50, p95, p99, p999, p9999, max }) => (
            <tr key={way}>
              <td className={CELL}>{way === "read" ? "reading" : "writing"}</td>
              {[p50, p95, p99, p999, p9999, max].map((us, i) => (
                <td key={i} className={FIGURE}>
                  {us === null ? "—" : formatMicroseconds(us)}
                </td>
              ))}
            </tr>
          ))}
          {beside.map(({ what, histogram }) => (
            <tr key={what}>
              <td className={CELL}>{what}</td>
              {figuresOf(histogram).map((us, i) => (
                <td key={i} className={FIGURE}>
                  {us === null ? "—" : formatMicroseconds(us)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The figures of a row: percentiles, and the middle of the last bucket for the longest. */
function figuresOf(packed: string): (number | null)[] {
  const histogram = unpackHistogram(packed);
  const last = histogram.findLastIndex((count) => count > 0);
  const { p50, p95, p99, p999, p9999, max } = percentiles(histogram, middleOf(Math.max(0, last)));
  return [p50, p95, p99, p999, p9999, max];
}

/** Counts by twelfths of a decade of nanoseconds. */
function columnsOf(histogram: Float64Array): Map<number, number> {
  const columns = new Map<number, number>();
  for (let bucket = 1; bucket < BUCKETS; bucket++) {
    const count = histogram[bucket]!;
    if (count === 0) continue;
    const place = Math.floor(Math.log10(middleOf(bucket)) * PER_DECADE);
    columns.set(place, (columns.get(place) ?? 0) + count);
  }
  return columns;
}
