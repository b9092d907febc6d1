"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useEffect, useEffectEvent, useState } from "react";
import { ENDED } from "@/core/drills/request";
import { narrowsOf } from "@/core/locate/narrows";
import { nameNarrows } from "@/core/answer/wording";
import { targetsOf, type Measurement, type Run } from "@/core/study/measurement";
import { meanRate, spreadOfTrace } from "@/core/trace/rates";
import {
  formatDuration,
  formatNumber,
  formatPercent,
  formatRate,
  formatSeconds,
} from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { kindOf, programOf, summaryOf, titleOf, type Drill } from "@/core/drills/drill";
import { Button, Trouble } from "../controls/form";
import { Progress } from "../controls/progress";
import { send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { Picture } from "./pictures/picture";
import { Trace } from "./pictures/trace";
import { STATUS_WORDS } from "./status";
import { useMeasurement, type StepNow } from "./use-measurement";

/** One measurement: live while it runs, with its trace, what is left of it, and a stop button. */
export function LiveMeasurement({
  id,
  letter,
  studyId,
  onStatus,
}: {
  id: string;
  letter: string;
  studyId: string;
  /** Told how it stands whenever that changes. */
  onStatus: (status: Measurement["status"]) => void;
}) {
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const { measurement, preparing, now, lost } = useMeasurement(id, () => router.refresh());
  const stands = measurement?.status;
  const tell = useEffectEvent(onStatus);
  useEffect(() => {
    if (stands) tell(stands);
  }, [stands]);
  if (!measurement) return <div className="h-96 border border-line bg-sheet" aria-busy />;

  const { drill, rig, runs, status, reason } = measurement;
  const over = ENDED.includes(status);
  const kind = kindOf(drill);
  const narrows = drill.direction === "mixed" ? null : narrowsOf(rig, drill.direction);
  const ceiling = narrows?.ceiling ?? null;
  const ceilingName = narrows
    ? nameNarrows(narrows)
        .map(({ text }) => text)
        .join("")
    : "";
  return (
    <section className="border border-line bg-sheet p-4">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="text-lg font-semibold">
          <span className="font-serif italic">{letter}</span>&ensp;{rig.name}, {titleOf(drill)},{" "}
          {WAYS[drill.direction]}
        </h2>
        <span data-status={status} role="status" className="font-semibold">
          {STATUS_WORDS[status]}
        </span>
        <span className="mr-auto text-secondary">
          {over ? "" : leftOver(measurement, preparing !== null, now)}
          {lost && !over && " · the server does not answer, trying again"}
        </span>
        {!over && (
          <Button
            onClick={async () => {
              const sent = await send("POST", `/api/measurements/${id}/stop`);
              if (!sent.ok) setTrouble(sent.error.message);
            }}
          >
            Stop
          </Button>
        )}
        {status === "done" && drill.direction !== "mixed" && (
          <Link
            href={`/studies/${studyId}?direction=${drill.direction}&drill=${drill.name}`}
            className="rounded-sm bg-ink px-3 py-1 font-semibold text-paper"
          >
            Read the answer
          </Link>
        )}
      </div>
      <p className="text-[13px] text-secondary">
        {targetsOf(measurement).join(", ")} · {kind.what}: {summaryOf(drill)}
        {measurement.conditions?.io === "buffered" && " · buffered"}
      </p>
      {reason && (
        <div className="mt-2">
          <Trouble>{reason}</Trouble>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {preparing && (
        <div className="mt-3">
          <Progress
            label="Writing the scratch file"
            value={preparing.bytes}
            most={preparing.total}
          />
          <p>
            Writing the scratch file: {formatSize(preparing.bytes)} of {formatSize(preparing.total)}
          </p>
        </div>
      )}
      <Picture measurement={measurement} ceiling={ceiling} ceilingName={ceilingName} />
      {runs.length > 0 && (
        <>
          {kind.picture !== "targets" && (
            <Trace
              runs={runs}
              ceiling={ceiling}
              ceilingName={ceilingName}
              seconds={secondsOf(drill)}
            />
          )}
          <RunTable measurement={measurement} />
          <Happenings runs={runs} />
        </>
      )}
      {measurement.conditions?.notes?.map((note) => (
        <p key={note} className="mt-1 text-[13px] text-secondary">
          {note}
        </p>
      ))}
    </section>
  );
}

const WAYS = { read: "reading", write: "writing", mixed: "reading and writing" } as const;

/** How long one repeat takes, where it ends by time alone. */
function secondsOf(drill: Drill): number | null {
  const program = programOf(drill, 2);
  const byTime = program.every(
    (step) => step.do === "rest" || (step.do === "flow" && step.bytes === null && !step.steady),
  );
  const [only] = program;
  return byTime && program.length === 1 && only?.do === "flow" && only.targets.length === 1
    ? only.seconds
    : null;
}

function leftOver({ drill, runs }: Measurement, preparing: boolean, now: StepNow | null): string {
  if (preparing || runs.length === 0) return "getting ready";
  const current = runs.at(-1)!;
  const seconds = secondsOf(drill);
  const parts: string[] = [];
  if (drill.repeats > 1) parts.push(`repeat ${current.repeat + 1} of ${drill.repeats}`);
  if (now && now.of > 1) {
    parts.push(`step ${now.step + 1} of ${now.of}${now.name ? `, ${now.name}` : ""}`);
  }
  if (now?.doing === "rest") parts.push(`resting ${formatSeconds(now.seconds ?? 0)}`);
  if (seconds !== null) {
    const into = (current.samples.at(-1)?.ms ?? 0) / 1e3;
    parts.push(`about ${formatSeconds((drill.repeats - current.repeat) * seconds - into)} left`);
  } else if (now?.bytes) {
    const moved = current.samples
      .filter(({ step }) => step === now.step)
      .reduce((sum, { bytes }) => sum + bytes, 0);
    parts.push(`${formatSize(moved, 1000)} of ${formatSize(now.bytes, 1000)}`);
  }
  return parts.join(" · ") || "measuring";
}

/** What happened during the runs, and what error counters did. */
function Happenings({ runs }: { runs: readonly Run[] }) {
  const events = runs.flatMap(({ repeat, events }) =>
    events.map((event) => ({ repeat, ...event })),
  );
  const errors = runs
    .flatMap(({ repeat, errors }) => errors.map((error) => ({ repeat, ...error })))
    .filter(({ before, after }) => after > before);
  const hottest = hottestOf(runs);
  if (events.length + errors.length + hottest.length === 0) return null;
  return (
    <div className="mt-2">
      <h3 className="font-semibold">What happened meanwhile</h3>
      <ul>
        {events.slice(0, 50).map(({ repeat, ms, text, from }, i) => (
          <li key={i}>
            <span className="figure">{formatDuration(ms)}</span>
            {runs.length > 1 && ` in repeat ${repeat + 1}`}: {text}
            {from && <span className="text-secondary"> ({from})</span>}
          </li>
        ))}
        {events.length > 50 && <li>and {events.length - 50} more</li>}
        {errors.map(({ repeat, what, from, before, after }) => (
          <li key={`${repeat}${from}`}>
            ⚠ {what}: {after - before} more than before{" "}
            <span className="text-secondary">({from})</span>
          </li>
        ))}
        {hottest.map(([what, celsius]) => (
          <li key={what}>
            {what}: <span className="figure">{celsius.toFixed(0)} °C</span> at most
          </li>
        ))}
      </ul>
    </div>
  );
}

function hottestOf(runs: readonly Run[]): [string, number][] {
  const most = new Map<string, number>();
  for (const { celsius } of runs.flatMap(({ readings }) => readings)) {
    for (const [what, value] of Object.entries(celsius)) {
      most.set(what, Math.max(value, most.get(what) ?? -Infinity));
    }
  }
  return [...most];
}

function RunTable({ measurement }: { measurement: Measurement }) {
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th className={HEAD}>repeat</th>
          <th className={HEAD_RIGHT}>mean, MB/s</th>
          <th className={HEAD_RIGHT}>tenths of a second: p5 / p50 / p95</th>
          <th className={HEAD_RIGHT}>requests</th>
          <th className={HEAD_RIGHT}>kernel’s count</th>
          <th className={HEAD_RIGHT}>busiest core</th>
        </tr>
      </thead>
      <tbody>
        {measurement.runs.map(({ id, repeat, result, samples, status }) => {
          const trace = spreadOfTrace(samples);
          return (
            <tr key={id}>
              <td className={`${CELL} figure`}>
                {repeat + 1}
                {status === "interrupted" || status === "stopped" || status === "failed"
                  ? ` (${STATUS_WORDS[status]})`
                  : ""}
              </td>
              <td className={`${FIGURE} font-semibold`}>
                {formatRate(result?.meanMBps ?? meanRate(samples))}
              </td>
              <td className={FIGURE}>
                {trace &&
                  [trace.p5, trace.p50, trace.p95].map((rate) => formatRate(rate)).join(" / ")}
              </td>
              <td className={FIGURE}>{result ? formatNumber(result.requests) : ""}</td>
              <td className={FIGURE}>
                {result &&
                  (result.deviceBytes === null
                    ? "none kept"
                    : `${formatPercent(result.deviceBytes / result.bytes)} of ours`)}
              </td>
              <td className={FIGURE}>
                {typeof result?.busiestCore === "number" && formatPercent(result.busiestCore)}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
