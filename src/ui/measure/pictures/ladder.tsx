"use client";

import { useCallback } from "react";
import type { Fit, StepResult } from "@/core/run/result";
import { formatMicroseconds, formatNumber, formatPercent, formatRate } from "@/core/units/number";
import { iopsOf } from "@/core/drills/kind";
import { iopsAtDepth, sayMisfit } from "@/core/stats/ladder";
import { inUnit } from "@/core/units/rate";
import { formatSize } from "@/core/units/size";
import { LazyPlot } from "../../charts/lazy-plot";
import { useRates, useUnit } from "../../frame/unit";
import type { Caption } from "../../out/framed-svg";
import type { Look } from "../../charts/plot";
import { StepTable } from "./step-table";

export interface CurveProps {
  steps: readonly StepResult[];
  fit: Fit | null;
  ceiling: number | null;
  ceilingName: string;
  /** What stands on the picture when it is saved. */
  caption: Caption;
}

/** A ladder as a curve: its steps, the fit through them, and the ceiling. */
function Curve({
  name,
  steps,
  label,
  fitted,
  ceiling,
  ceilingName,
  caption,
}: Omit<CurveProps, "fit"> & {
  name: string;
  label: (step: StepResult) => string;
  /** What the fit says of each step, MB/s; null without a fit. */
  fitted: number[] | null;
}) {
  const unit = useUnit();
  const option = useCallback(
    ({ colour, axis, tooltip, ceiling: line }: Look) => ({
      legend: fitted
        ? {
            top: 0,
            right: 8,
            data: ["measured", "fit"],
            textStyle: { color: colour("secondary"), fontFamily: "Barlow Semi Condensed" },
          }
        : undefined,
      tooltip: {
        ...tooltip,
        valueFormatter: (value: unknown) => `${formatRate(Number(value))} ${unit}`,
      },
      xAxis: {
        type: "category",
        name,
        nameLocation: "middle",
        nameGap: 24,
        data: steps.map(label),
        ...axis,
      },
      yAxis: {
        type: "value",
        name: unit,
        min: 0,
        max:
          ceiling === null
            ? undefined
            : (value: { max: number }) => Math.max(value.max, inUnit(ceiling, unit)) * 1.08,
        ...axis,
        axisLabel: {
          ...(axis.axisLabel as object),
          showMaxLabel: false,
          formatter: (value: number) => formatRate(value),
        },
      },
      series: [
        {
          name: "measured",
          type: "line",
          symbol: "circle",
          symbolSize: 7,
          data: steps.map(({ meanMBps }) => inUnit(meanMBps, unit)),
          lineStyle: { color: colour("flow"), width: 1.8 },
          itemStyle: { color: colour("flow") },
          ...(ceiling === null ? {} : { markLine: line(ceilingName, ceiling, unit) }),
        },
        ...(fitted
          ? [
              {
                name: "fit",
                type: "line",
                showSymbol: false,
                data: fitted.map((mbps) => inUnit(mbps, unit)),
                lineStyle: { color: colour("ink"), width: 1.2, type: "dashed" },
                itemStyle: { color: colour("ink") },
              },
            ]
          : []),
      ],
    }),
    [name, steps, label, fitted, ceiling, ceilingName, unit],
  );
  return (
    <LazyPlot
      label={`Throughput by ${name}; the table below has the values.`}
      option={option}
      className="h-64 w-full"
      out={{
        caption,
        rows: () => [
          [name, unit, ...(fitted ? [`fit, ${unit}`] : [])],
          ...steps.map((step, i) => [
            label(step),
            Number(inUnit(step.meanMBps, unit).toPrecision(6)),
            ...(fitted ? [Number(inUnit(fitted[i]!, unit).toPrecision(6))] : []),
          ]),
        ],
      }}
    />
  );
}

const blockOf = ({ label }: StepResult) => formatSize(label.block!);
const depthOf = ({ label }: StepResult) => String(label.depth);

/** Throughput by block size, with what each request costs beside its bytes. */
export function ByBlock({ steps, fit, ...rest }: CurveProps) {
  const { unit, rate } = useRates();
  const line = fit?.by === "block" ? fit : null;
  const fitted =
    line &&
    steps.map(({ label }) => label.block! / (line.overheadUs + label.block! / line.asymptoteMBps));
  return (
    <>
      {line && (
        <p className="mt-1">
          Each request costs <b className="figure">{formatMicroseconds(line.overheadUs)}</b>{" "}
          whatever its size, and its bytes go at{" "}
          <b className="figure">{`${rate(line.asymptoteMBps)} ${unit}`}</b>; half of that is reached
          at <b className="figure">{formatSize(Math.round(line.halfRateBytes))}</b>. No step lies
          further than {formatPercent(line.worst)} off this line.
        </p>
      )}
      <Curve name="block size" steps={steps} label={blockOf} fitted={fitted} {...rest} />
      <StepTable name="block" steps={steps} label={blockOf} />
    </>
  );
}

/** Throughput by queue depth, with knee and plateau. */
export function ByDepth({ steps, fit, ...rest }: CurveProps) {
  const line = fit?.by === "depth" ? fit : null;
  const points = steps.map((step) => ({ depth: step.label.depth!, iops: iopsOf(step) }));
  // Requests of one size, so that a rate follows from requests a second.
  const size = (step: StepResult) => (iopsOf(step) > 0 ? step.meanMBps / iopsOf(step) : 0);
  const fitted = line && steps.map((step) => iopsAtDepth(line, step.label.depth!) * size(step));
  return (
    <>
      {line && (
        <p className="mt-1">
          {line.rises ? (
            <>
              One at a time <b className="figure">{formatNumber(line.singleIops)}</b> requests a
              second, at most <b className="figure">{formatNumber(line.plateauIops)}</b>; the path
              is full from about <b className="figure">{formatNumber(line.kneeDepth, 1)}</b> in
              flight on.{sayMisfit(line, points)}
            </>
          ) : (
            <>
              No rise with depth: <b className="figure">{formatNumber(line.plateauIops)}</b>{" "}
              requests a second however many are in flight. That is the mark of a path that serves
              one request at a time.
            </>
          )}
        </p>
      )}
      <Curve name="requests in flight" steps={steps} label={depthOf} fitted={fitted} {...rest} />
      <StepTable name="in flight" steps={steps} label={depthOf} />
    </>
  );
}

const positionOf = ({ label }: StepResult) => formatSize(label.position!, 1000);

/** Rate by position on the medium. */
export function ByPosition({ steps, ceiling, ceilingName, caption }: CurveProps) {
  return (
    <>
      <Curve
        name="position on the medium"
        steps={steps}
        label={positionOf}
        fitted={null}
        ceiling={ceiling}
        ceilingName={ceilingName}
        caption={caption}
      />
      <StepTable name="at" steps={steps} label={positionOf} />
    </>
  );
}
