"use client";

import { useRates } from "../../frame/unit";
import { programOf } from "@/core/drills/drill";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import { nowOf } from "@/core/reading/now";
import { formatDuration, formatNumber, formatPercent } from "@/core/units/number";
import { Tip } from "../../controls/tip";
import { bytesDone, phaseOf, secondsLeft, stepOf } from "./remaining";
import type { StepNow } from "./use-measurement";

/** How a run that is going on stands: its rate to be read from across the room, and the rest beside it. */
export function LiveRate({
  measurement,
  told,
  ceiling,
}: {
  measurement: Measurement;
  /** The step, as far as the page was told of it. */
  told: StepNow | null;
  /** MB/s; null where none is known. */
  ceiling: number | null;
}) {
  const { unit, rate } = useRates();
  const run = measurement.runs.at(-1);
  if (!run) return null;
  const now = stepOf(measurement, told);
  const step = now?.step ?? run.samples.at(-1)?.step ?? 0;
  const inStep = run.samples.filter((sample) => sample.step === step);
  const doing = programOf(measurement.drill, targetsOf(measurement).length)[step];
  const depth = doing?.do === "flow" && doing.targets.length === 1 ? doing.depth : null;
  const figures = nowOf(inStep, depth);
  const left = secondsLeft(measurement, now, inStep, figures?.recent ?? 0);
  const reading = run.readings.findLast(({ celsius }) => Object.keys(celsius).length > 0);
  const degrees = Object.values(reading?.celsius ?? {});
  const resting = now?.doing === "rest";
  const rows: [what: string, value: string, why?: string][] = [
    ["mean of this step", figures ? `${rate(figures.mean)} ${unit}` : "–"],
    [
      "sustained",
      figures ? `${rate(figures.sustained)} ${unit}` : "–",
      "The mean since the level last changed for good; of the whole step where it has not.",
    ],
    [
      "mean latency",
      figures?.requestUs ? formatMicroseconds(figures.requestUs) : "not known",
      "In the mean over the last second: requests in flight, divided by those that end in a second.",
    ],
    ["temperature", degrees.length > 0 ? `${Math.max(...degrees).toFixed(0)} °C` : "not reported"],
    ["now", phaseOf(measurement, now)],
    [
      "time left",
      left === null
        ? (bytesDone(now, inStep) ?? "cannot be told")
        : [`about ${formatDuration(left * 1000)}`, bytesDone(now, inStep)]
            .filter(Boolean)
            .join(" · "),
    ],
  ];
  return (
    <div className="my-2 flex flex-wrap items-center gap-x-8 gap-y-2" data-live>
      <div className="min-w-[330px]">
        <div className="figure text-[84px] leading-none" data-live-rate>
          {resting ? "0" : rate(figures?.rate ?? 0)}
          <span className="ml-3 text-[26px] text-secondary">{unit}</span>
        </div>
        <p className="text-[13px] text-secondary">
          {resting
            ? "resting"
            : ceiling && figures
              ? `the last second · ${formatPercent(figures.rate / ceiling)} of the ceiling`
              : "the last second"}
          {figures && figures.iops > 0 && ` · ${formatNumber(Math.round(figures.iops))} requests/s`}
        </p>
        {ceiling !== null && figures && figures.mean > ceiling * BEYOND && !resting && (
          <p className="max-w-[330px] text-sm font-semibold">
            ⚠ More than the link can carry: memory answers, or the rig is not what it says.
          </p>
        )}
      </div>
      <dl className="grid flex-1 grid-cols-3 gap-x-6 gap-y-2">
        {rows.map(([what, value, why]) => (
          <div key={what}>
            <dt className="text-[13px] text-secondary">
              {why ? (
                <Tip text={why}>
                  <span className="underline decoration-dotted">{what}</span>
                </Tip>
              ) : (
                what
              )}
            </dt>
            <dd className="figure text-[17px]">{value}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

/** From here on it is no rounding of a burst. */
const BEYOND = 1.02;

const formatMicroseconds = (us: number) =>
  us >= 10_000
    ? `${(us / 1000).toFixed(0)} ms`
    : us >= 1000
      ? `${(us / 1000).toFixed(1)} ms`
      : `${us.toFixed(0)} µs`;
