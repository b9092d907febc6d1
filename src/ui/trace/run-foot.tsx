"use client";

import { Link } from "../controls/link";
import { logOf } from "@/core/run/sensor";
import type { OpenTrace } from "@/core/study/open-trace";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed } from "../controls/toast";
import { MakeDemand } from "../demands/make-demand";
import { PhotoStrip } from "../photos/photo-strip";
import { LeaveOut } from "./leave-out";
import { LogOverRun } from "./log-over-run";
import { RunPhotos } from "./run-photos";

/** What was added to a run, and what can be done with it. */
export function RunFoot({ trace, onChanged }: { trace: OpenTrace; onChanged: () => void }) {
  const { runId, photos, readings } = trace;
  const sensors = readings.flatMap(({ celsius }) => Object.keys(celsius));
  const logs = [...new Set(sensors.flatMap((what) => logOf(what) ?? []))];
  const takeOff = async (log: string) => {
    const url = `/api/runs/${runId}/temperatures?log=${encodeURIComponent(log)}`;
    const sent = await send("DELETE", url);
    if (!sent.ok) return sayFailed(sent.error.message);
    onChanged();
  };
  return (
    <div className="mt-4 space-y-2">
      <PhotoStrip photos={photos} />
      {logs.map((log) => (
        <p key={log} className="flex flex-wrap items-baseline gap-x-3" data-log={log}>
          <span>
            <b>Temperatures from:</b> {log}
          </span>
          <Button className="!py-0" onClick={() => takeOff(log)}>
            Remove
          </Button>
        </p>
      ))}
      {trace.ofOthers && (
        <MakeDemand
          url={`/api/runs/${runId}/demand`}
          studies={[{ id: trace.studyId, title: "this study" }]}
        />
      )}
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <LogOverRun trace={trace} onChanged={onChanged} />
        <RunPhotos runId={runId} photos={photos} onChanged={onChanged} />
        <LeaveOut runId={runId} leftOut={trace.leftOut} onChanged={onChanged} />
        <Link
          className="underline"
          href={`/studies/${trace.studyId}/measure?m=${trace.measurementId}`}
        >
          The whole measurement, with its conditions
        </Link>
      </div>
    </div>
  );
}
