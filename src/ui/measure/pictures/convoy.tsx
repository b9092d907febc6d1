"use client";

import { useCallback, useMemo } from "react";
import type { Sample, StepResult } from "@/core/run/result";
import { fanInPoints, fitFanIn } from "@/core/stats/fan-in";
import { ratesOf } from "@/core/trace/rates";
import { formatDuration, formatNumber, formatPercent, formatRate } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { LazyPlot } from "../../charts/lazy-plot";
import type { Look } from "../../charts/plot";
import { useRates } from "../../frame/unit";
import type { Caption } from "../../out/framed-svg";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";

/** Several drives at once: the total as a stack, with each one's share. */
export function Convoy({
  step,
  samples,
  targets,
  ceiling,
  ceilingName,
  caption,
}: {
  step: StepResult;
  samples: readonly Sample[];
  targets: readonly string[];
  ceiling: number | null;
  ceilingName: string;
  /** What stands on the picture when it is saved. */
  caption: Caption;
}) {
  const { unit, rate } = useRates();
  const fit = useMemo(() => fitFanIn(fanInPoints(step.targets, samples)), [step, samples]);
  const option = useCallback(
    ({ colour, axis, tooltip, ceiling: line }: Look) => ({
      tooltip: {
        ...tooltip,
        valueFormatter: (value: unknown) => `${formatRate(Number(value))} ${unit}`,
      },
      xAxis: {
        type: "value",
        min: 0,
        name: "seconds",
        nameLocation: "middle",
        nameGap: 22,
        ...axis,
      },
      yAxis: { type: "value", min: 0, name: unit, ...axis },
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
          inUnit(mbps, unit),
        ]),
        ...(i === 0 && ceiling !== null ? { markLine: line(ceilingName, ceiling, unit) } : {}),
        ...(i === step.targets.length - 1 && fit?.uplink
          ? { markLine: line("the uplink they share", fit.uplink, unit) }
          : {}),
      })),
    }),
    [step, samples, targets, ceiling, ceilingName, fit, unit],
  );
  const total = step.targets.reduce((sum, { meanMBps }) => sum + meanMBps, 0);
  return (
    <>
      <LazyPlot
        label="The drives’ rates over time, stacked; the table below has the values."
        option={option}
        out={{
          caption,
          rows: () => [
            ["drive", "joined after, s", `${unit} with all at work`],
            ...step.targets.map(({ target, startedMs, meanMBps }) => [
              targets[target] ?? "",
              startedMs / 1e3,
              Number(inUnit(meanMBps, unit).toPrecision(6)),
            ]),
          ],
        }}
      />
      {fit && (
        <p className="mt-1">
          {fit.uplink === null
            ? `Each drive takes about ${rate(fit.drive)} ${unit}; together they never filled what they share.`
            : `Each drive takes about ${rate(fit.drive)} ${unit} while there is room; what they share carries ${rate(fit.uplink)} ${unit}, full from ${formatNumber(fit.full!, 1)} drives on.`}{" "}
          No step lies further from that than {formatPercent(fit.worst)}.
        </p>
      )}
      <table className="mt-2 w-full">
        <thead>
          <tr>
            <th className={HEAD}>drive</th>
            <th className={HEAD_RIGHT}>joined after</th>
            <th className={HEAD_RIGHT}>{unit} with all at work</th>
            <th className={HEAD_RIGHT}>share</th>
          </tr>
        </thead>
        <tbody>
          {step.targets.map(({ target, startedMs, meanMBps }) => (
            <tr key={target}>
              <td className={`${CELL} min-w-28 [overflow-wrap:anywhere]`}>{targets[target]}</td>
              <td className={FIGURE}>{formatDuration(startedMs)}</td>
              <td className={`${FIGURE} font-semibold`}>{rate(meanMBps)}</td>
              <td className={FIGURE}>{total > 0 ? formatPercent(meanMBps / total) : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
