"use client";

import { Link } from "../../controls/link";
import { useRouter } from "next/navigation";
import { useEffect, useEffectEvent, useMemo, useState, type ReactNode } from "react";
import { ENDED } from "@/core/drills/request";
import { bottleneckOf } from "@/core/chain/bottleneck";
import { nameBottleneck } from "@/core/chain/wording";
import type { Circumstances } from "@/core/study/condition-rows";
import { settingsWords, targetsOf, type Measurement } from "@/core/study/measurement";
import { formatSize } from "@/core/units/size";
import { kindOf, titleOf } from "@/core/drills/drill";
import { Button, Trouble } from "../../controls/form";
import { Progress } from "../../controls/progress";
import { send } from "../../controls/send";
import { ConditionsList } from "./conditions";
import { FarHostNow, FarHostsThen } from "./far-hosts";
import { InTouch } from "./in-touch";
import { LiveRate } from "./live-rate";
import { NoteField } from "./note-field";
import { captionOf } from "../pictures/caption";
import { LiveTrace } from "../pictures/live-trace";
import { Picture } from "../pictures/picture";
import { Trace } from "../pictures/trace";
import { secondsOf } from "./remaining";
import { Happenings, RunTable } from "./run-table";
import { stateOf } from "../status";
import { WAYS } from "../form/ways";
import { useLateResult } from "./use-late-result";
import { useMeasurement } from "./use-measurement";

/** One measurement: live while it runs, with its trace, what is left of it, and a stop button. */
export function LiveMeasurement({
  id,
  letter,
  before,
  studyId,
  onStatus,
  result,
}: {
  id: string;
  letter: string;
  /** The run before, whose conditions this one's are held against. */
  before: (Circumstances & { name: string }) | null;
  studyId: string;
  /** Told how it stands whenever that changes. */
  onStatus: (status: Measurement["status"]) => void;
  /** What it came to, once it is over; null where the page does not have that yet. */
  result?: ReactNode;
}) {
  const router = useRouter();
  const [trouble, setTrouble] = useState<string | null>(null);
  const { measurement, preparing, now, touch, lost } = useMeasurement(id, () => router.refresh());
  const stands = measurement?.status;
  const tell = useEffectEvent(onStatus);
  useEffect(() => {
    if (stands) tell(stands);
  }, [stands]);
  useLateResult(stands === "done" && result === null, () => router.refresh());
  const picture = usePicture(measurement);
  if (!measurement) return <div className="h-96 border border-line bg-sheet" aria-busy />;

  const { drill, rig, runs, status, reason } = measurement;
  const over = ENDED.includes(status);
  const kind = kindOf(drill);
  const { ceiling, ceilingName } = ceilingOf(measurement);
  const traced = measurement.runs.some(({ samples }) => samples.length > 0);
  return (
    <section className="border border-line bg-sheet p-4">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="text-lg font-semibold">
          <span className="font-serif italic">{letter}</span>&ensp;{rig.name}, {titleOf(drill)},{" "}
          {WAYS[drill.direction]}
        </h2>
        <span data-status={status} role="status" className="font-semibold">
          {stateOf({ origin: measurement.origin, status })}
        </span>
        <span className="mr-auto text-secondary">
          {lost && !over && "the server does not answer, trying again"}
        </span>
        {status === "running" && measurement.origin === "measured" && <NoteField id={id} />}
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
        {status === "done" && measurement.origin !== "watched" && drill.direction !== "mixed" && (
          <Link
            href={`/studies/${studyId}?direction=${drill.direction}&drill=${drill.name}`}
            className="rounded-sm bg-ink px-3 py-1 font-semibold text-paper"
          >
            Read the answer
          </Link>
        )}
      </div>
      <p className="text-[13px] text-secondary">
        {targetsOf(measurement).join(", ")} · {kind.what}: {settingsWords(measurement)}
        {measurement.conditions?.io === "buffered" && " · buffered"}
      </p>
      {over && result}
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
      {status === "running" && !preparing && (
        <>
          <InTouch touch={touch}>
            <LiveRate measurement={measurement} told={now} ceiling={ceiling} />
          </InTouch>
          <FarHostNow measurement={measurement} />
        </>
      )}
      {runs.length > 0 && kind.picture !== "targets" && !over && (
        <LiveTrace
          samples={runs.at(-1)!.samples}
          ceiling={ceiling}
          ceilingName={ceilingName}
          seconds={secondsOf(drill)}
        />
      )}
      {picture}
      {runs.length > 0 && (
        <>
          {over && !traced && (
            <p className="mt-2 text-secondary">A figure without a trace: nobody kept one.</p>
          )}
          {kind.picture !== "targets" && over && traced && (
            <Trace
              runs={runs}
              ceiling={ceiling}
              ceilingName={ceilingName}
              seconds={secondsOf(drill)}
              caption={captionOf(measurement)}
            />
          )}
          <RunTable measurement={measurement} studyId={studyId} />
          {over && <FarHostsThen runs={runs} />}
          <Happenings runs={runs} />
        </>
      )}
      {measurement.conditions?.notes?.map((note) => (
        <p key={note} className="mt-1 text-[13px] text-secondary">
          {note}
        </p>
      ))}
      {over && measurement.conditions && <ConditionsList of={measurement} before={before} />}
      {over && runs.length > 0 && (
        <p className="mt-2 text-sm">
          <a className="underline" href={`/api/measurements/${id}/file`} download>
            Save as a file of runs
          </a>{" "}
          <span className="text-secondary">with every sample, for Nerrit elsewhere</span>
          {measurement.origin !== "simulated" &&
            !kind.recorded &&
            runs.some(({ result }) => result) && (
              <>
                {" · "}
                <Link className="underline" href={`/studies/${studyId}/simulated?m=${id}`}>
                  See it beside the simulated bench
                </Link>
              </>
            )}
        </p>
      )}
    </section>
  );
}

/** The picture of the steps that came to their end; drawn anew only where one more did. */
function usePicture(measurement: Measurement | null) {
  const run = measurement?.runs.findLast(({ steps }) => steps.length > 0);
  const moves = measurement && kindOf(measurement.drill).picture === "targets";
  return useMemo(
    () => measurement && <Picture measurement={measurement} {...ceilingOf(measurement)} />,
    // Samples come every second, and change nothing of a ladder's steps.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [measurement?.id, measurement?.status, run?.steps, run?.result, moves && run?.samples],
  );
}

/** What the measured way cannot exceed, and by what it is held there. */
function ceilingOf({ drill, rig }: Measurement): { ceiling: number | null; ceilingName: string } {
  if (drill.direction === "mixed") return { ceiling: null, ceilingName: "" };
  const bottleneck = bottleneckOf(rig, drill.direction);
  if (!bottleneck) return { ceiling: null, ceilingName: "" };
  const words = nameBottleneck(bottleneck).map(({ text }) => text);
  return { ceiling: bottleneck.ceiling, ceilingName: words.join("") };
}
