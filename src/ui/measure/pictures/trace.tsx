"use client";

import { useCallback } from "react";
import type { Run } from "@/core/study/measurement";
import { thinned } from "@/core/trace/thin";
import { formatRate } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { useUnit } from "../../frame/unit";
import type { Caption } from "../../out/framed-svg";
import { LazyPlot } from "../../charts/lazy-plot";
import { STROKES, type Look } from "../../charts/plot";

/** More points than a chart of this width can show. */
const MOST = 1500;

/** Throughput over time, one line a repeat, with the ceiling it cannot exceed. */
export function Trace({
  runs,
  ceiling,
  ceilingName,
  seconds,
  caption,
}: {
  runs: Run[];
  ceiling: number | null;
  ceilingName: string;
  /** How long a repeat takes, where that is known; null: as long as it took so far. */
  seconds: number | null;
  /** What stands on the picture when it is saved. */
  caption: Caption;
}) {
  const unit = useUnit();
  const option = useCallback(
    ({ colour, axis, tooltip, ceiling: line }: Look) => {
      const lines = runs.map(({ samples }) => lineOf(thinned(together(samples), MOST)));
      const top = Math.max(ceiling ?? 0, ...lines.flat().map(([, mbps]) => mbps ?? 0)) * 1.08 || 1;
      return {
        tooltip: {
          ...tooltip,
          valueFormatter: (value: unknown) => `${formatRate(Number(value))} ${unit}`,
        },
        xAxis: {
          type: "value",
          min: 0,
          ...(seconds === null ? {} : { max: seconds }),
          name: "seconds",
          nameLocation: "middle",
          nameGap: 22,
          ...axis,
        },
        yAxis: {
          type: "value",
          min: 0,
          max: inUnit(top, unit),
          name: unit,
          ...axis,
          axisLabel: {
            ...(axis.axisLabel as object),
            showMaxLabel: false,
            formatter: (value: number) => formatRate(value),
          },
        },
        series: runs.map((run, i) => ({
          name: `repeat ${run.repeat + 1}`,
          type: "line",
          showSymbol: false,
          data: lines[i]!.map(([at, mbps]) => [at, mbps === null ? null : inUnit(mbps, unit)]),
          lineStyle: { color: colour("flow"), width: 1.8, type: STROKES[i % STROKES.length] },
          itemStyle: { color: colour("flow") },
          ...(i === 0 && ceiling !== null ? { markLine: line(ceilingName, ceiling, unit) } : {}),
        })),
      };
    },
    [runs, ceiling, ceilingName, seconds, unit],
  );
  return (
    <LazyPlot
      label={`Throughput over time, ${runs.length} repeats; the table below has the values.`}
      option={option}
      out={{
        caption,
        rows: () => [
          ["repeat", "from, s", "to, s", "bytes", unit],
          ...runs.flatMap(({ repeat, samples }) =>
            samples.map(({ from, ms, bytes }) => [
              repeat + 1,
              from / 1e3,
              ms / 1e3,
              bytes,
              ms > from ? Number(inUnit(bytes / 1e3 / (ms - from), unit).toPrecision(6)) : null,
            ]),
          ),
        ],
      }}
    />
  );
}

/** A gap in time that is no sampler's delay. */
const GAP_MS = 60;

/** Points of a line, interrupted where nothing was sampled. */
function lineOf(samples: Run["samples"]): [seconds: number, mbps: number | null][] {
  let last = 0;
  return samples.flatMap((sample): [number, number | null][] => {
    const { from, ms, bytes } = sample;
    const gap: [number, null][] = from - last > GAP_MS ? [[from / 1e3, null]] : [];
    last = ms;
    return ms > from ? [...gap, [Number((ms / 1e3).toFixed(2)), bytes / 1e3 / (ms - from)]] : gap;
  });
}

/** What is shorter has no rate of its own: a last sample, a flush of a moment. */
const LEAST_MS = 50;

/** Samples of several targets at one moment joined, and short ones with what came before. */
function together(samples: Run["samples"]): Run["samples"] {
  const joined: Run["samples"] = [];
  for (const sample of samples) {
    const last = joined.at(-1);
    const short = sample.ms - sample.from < LEAST_MS && last && sample.from - last.ms < GAP_MS;
    if (last && (last.ms === sample.ms || short)) {
      last.bytes += sample.bytes;
      last.ms = sample.ms;
    } else joined.push({ ...sample });
  }
  return joined;
}
