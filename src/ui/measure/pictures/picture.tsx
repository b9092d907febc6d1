"use client";

import { kindOf } from "@/core/drills/drill";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import { formatDuration } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { useRates } from "../../frame/unit";
import { captionOf } from "./caption";
import { Convoy } from "./convoy";
import { Ferry } from "./ferry";
import { ByBlock, ByDepth, ByPosition } from "./ladder";
import { LatencyPicture } from "./latency";
import { Proof } from "./proof";
import { Steps } from "./steps";
import { Work } from "./work";

/** What fits a drill's result: each kind has its own picture, with the exact values beside it. */
export function Picture({
  measurement,
  ceiling,
  ceilingName,
}: {
  measurement: Measurement;
  ceiling: number | null;
  ceilingName: string;
}) {
  const { unit, rate } = useRates();
  const run = measurement.runs.findLast(({ steps }) => steps.length > 0);
  if (!run) return null;
  const steps = run.steps.filter(({ kind }) => kind !== "rest");
  const [first] = steps;
  if (!first) return null;
  const targets = targetsOf(measurement);
  const caption = captionOf(measurement);
  const curve = { steps, fit: run.result?.fit ?? null, ceiling, ceilingName, caption };
  switch (kindOf(measurement.drill).picture) {
    case "by block":
      return <ByBlock {...curve} />;
    case "by depth":
      return <ByDepth {...curve} />;
    case "position":
      return <ByPosition {...curve} />;
    case "targets":
      return (
        <Convoy
          step={first}
          samples={run.samples}
          targets={targets}
          ceiling={ceiling}
          ceilingName={ceilingName}
          caption={caption}
        />
      );
    case "copy":
      return (
        first.copy && (
          <Ferry step={first} targets={targets} direction={measurement.drill.direction} />
        )
      );
    case "work":
      return <Work steps={steps} caption={caption} />;
    case "proof":
      return <Proof steps={steps} />;
    case "steps":
      return <Steps steps={run.steps} />;
    case "fill":
      return (
        <>
          <p className="mt-2 text-base">
            Burst <b className="figure">{`${rate(first.burstMBps)} ${unit}`}</b>, sustained{" "}
            <b className="figure">{`${rate(first.sustainedMBps)} ${unit}`}</b>;{" "}
            {first.edgeBytes === null
              ? `no lasting drop within ${formatSize(first.bytes, 1000)}`
              : `the first lasting drop came after ${formatSize(first.edgeBytes, 1000)}`}
            {first.flushMs !== null &&
              `; the flush at the end took ${formatDuration(first.flushMs)}`}
            .
          </p>
          <LatencyPicture step={first} caption={caption} />
        </>
      );
    default:
      return (
        <>
          {first.flushMs !== null && (
            <p className="mt-2">The flush at the end took {formatDuration(first.flushMs)}.</p>
          )}
          <LatencyPicture step={first} caption={caption} />
        </>
      );
  }
}
