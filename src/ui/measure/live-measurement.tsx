"use client";

import dynamic from "next/dynamic";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useEffect, useEffectEvent, useState } from "react";
import { ENDED } from "@/core/drills/request";
import { narrowsOf } from "@/core/locate/narrows";
import { nameNarrows } from "@/core/answer/wording";
import type { Measurement } from "@/core/study/measurement";
import { meanRate, spreadOfTrace } from "@/core/trace/rates";
import { formatNumber, formatPercent, formatRate, formatSeconds } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Button, Trouble } from "../controls/form";
import { Progress } from "../controls/progress";
import { send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { STATUS_WORDS } from "./status";
import { useMeasurement } from "./use-measurement";

const TraceChart = dynamic(() => import("./trace-chart"), {
  ssr: false,
  loading: () => <div className="h-60" />,
});

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
  const { measurement, preparing, lost } = useMeasurement(id, () => router.refresh());
  const stands = measurement?.status;
  const tell = useEffectEvent(onStatus);
  useEffect(() => {
    if (stands) tell(stands);
  }, [stands]);
  if (!measurement) return <div className="h-96 border border-line bg-sheet" aria-busy />;

  const { drill, rig, runs, status, reason } = measurement;
  const over = ENDED.includes(status);
  const narrows = narrowsOf(rig, drill.direction);
  return (
    <section className="border border-line bg-sheet p-4">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="text-lg font-semibold">
          <span className="font-serif italic">{letter}</span>&ensp;{rig.name},{" "}
          {drill.direction === "read" ? "reading" : "writing"}
        </h2>
        <span data-status={status} role="status" className="font-semibold">
          {STATUS_WORDS[status]}
        </span>
        <span className="mr-auto text-secondary">
          {over ? "" : leftOver(measurement, preparing)}
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
        {status === "done" && (
          <Link
            href={`/studies/${studyId}?direction=${drill.direction}`}
            className="rounded-sm bg-ink px-3 py-1 font-semibold text-paper"
          >
            Read the answer
          </Link>
        )}
      </div>
      <p className="text-[13px] text-secondary">
        {measurement.target} · {formatSize(drill.block)} blocks, {drill.depth} in flight, span{" "}
        {formatSize(drill.span)}
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
      {runs.length > 0 && (
        <>
          <TraceChart
            runs={runs}
            ceiling={narrows?.ceiling ?? null}
            ceilingName={
              narrows
                ? nameNarrows(narrows)
                    .map(({ text }) => text)
                    .join("")
                : ""
            }
            seconds={drill.seconds}
          />
          <RunTable measurement={measurement} />
        </>
      )}
    </section>
  );
}

function leftOver({ drill, runs }: Measurement, preparing: unknown): string {
  if (preparing || runs.length === 0) return "getting ready";
  const current = runs.at(-1)!;
  const into = (current.samples.at(-1)?.ms ?? 0) / 1e3;
  const left = (drill.repeats - current.repeat) * drill.seconds - into;
  return `repeat ${current.repeat + 1} of ${drill.repeats} · about ${formatSeconds(left)} left`;
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
