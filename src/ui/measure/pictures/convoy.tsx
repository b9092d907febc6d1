"use client";

import { useCallback } from "react";
import type { Sample, StepResult } from "@/core/drills/result";
import { ratesOf } from "@/core/trace/rates";
import { formatDuration, formatPercent, formatRate } from "@/core/units/number";
import { LazyPlot } from "../../charts/lazy-plot";
import type { Look } from "../../charts/plot";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";

/** Several drives at once: the total as a stack, with each one's share. */
export function Convoy({
  step,
  samples,
  targets,
  ceiling,
  ceilingName,
}: {
  step: StepResult;
  samples: readonly Sample[];
  targets: readonly string[];
  ceiling: number | null;
  ceilingName: string;
}) {
  const option = useCallback(
    ({ colour, axis, tooltip, ceiling: line }: Look) => ({
      tooltip: {
        ...tooltip,
        valueFormatter: (value: unknown) => `${formatRate(Number(value))} MB/s`,
      },
      xAxis: {
        type: "value",
        min: 0,
        name: "seconds",
        nameLocation: "middle",
        nameGap: 22,
        ...axis,
      },
      yAxis: { type: "value", min: 0, name: "MB/s", ...axis },
      series: step.targets.map(({ target }, i) => ({
        name: targets[target] ?? `drive ${target + 1}`,
        type: "line",
        stack: "all",
        showSymbol: false,
        areaStyle: {
          color: colour("flow"),
          opacity: 0.75 - 0.55 * (i / Math.max(1, step.targets.length)),
        },
        lineStyle: { color: colour("ink"), width: 0.8 },
        itemStyle: { color: colour("flow") },
        data: ratesOf(samples.filter((sample) => sample.target === target)).map(({ ms, mbps }) => [
          // Tenths of a second, so that the drives' samples stack on one another.
          Math.round(ms / 100) / 10,
          mbps,
        ]),
        ...(i === 0 && ceiling !== null ? { markLine: line(ceilingName, ceiling) } : {}),
      })),
    }),
    [step, samples, targets, ceiling, ceilingName],
  );
  const total = step.targets.reduce((sum, { meanMBps }) => sum + meanMBps, 0);
  return (
    <>
      <LazyPlot
        label="The drives’ rates over time, stacked; the table below has the values."
        option={option}
      />
      <table className="mt-2 w-full">
        <thead>
          <tr>
            <th className={HEAD}>drive</th>
            <th className={HEAD_RIGHT}>joined after</th>
            <th className={HEAD_RIGHT}>MB/s with all at work</th>
            <th className={HEAD_RIGHT}>share</th>
          </tr>
        </thead>
        <tbody>
          {step.targets.map(({ target, startedMs, meanMBps }) => (
            <tr key={target}>
              <td className={`${CELL} [overflow-wrap:anywhere]`}>{targets[target]}</td>
              <td className={FIGURE}>{formatDuration(startedMs)}</td>
              <td className={`${FIGURE} font-semibold`}>{formatRate(meanMBps)}</td>
              <td className={FIGURE}>{total > 0 ? formatPercent(meanMBps / total) : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
