"use client";

import { Link } from "../controls/link";
import type { ShownComparison } from "@/core/compare/shown";
import type { OpenTrace } from "@/core/study/open-trace";
import type { RateUnit } from "@/core/units/rate";
import { useState } from "react";
import type { Alignment, Axis } from "../trace/axis";
import { TraceToggles } from "../trace/trace-toggles";
import { TracePicture } from "../trace/trace-picture";
import { titleOf } from "./picture-look";

/** A trace of each rig over each other; of the first few that have one. */
export function CompareTraces({
  traces,
  shown,
  unit,
}: {
  traces: readonly OpenTrace[];
  shown: ShownComparison;
  unit: RateUnit;
}) {
  const [axis, setAxis] = useState<Axis>("time");
  const [alignment, setAlignment] = useState<Alignment>("start");
  const [first, ...others] = traces;
  if (!first)
    return <p className="py-6 text-secondary">None of these runs kept a trace to be drawn.</p>;
  const names = traces.map(({ rigId, rigName, repeat }) => {
    const letter = shown.rigs.find(({ id }) => id === rigId)?.letter ?? "–";
    return `${letter}, ${rigName}, repeat ${repeat + 1}`;
  });
  const query = others.map(({ runId }) => `run=${encodeURIComponent(runId)}`).join("&");
  return (
    <>
      <div className="mb-1 flex flex-wrap items-center gap-4">
        <TraceToggles
          traces={traces}
          axis={axis}
          alignment={alignment}
          onAxis={setAxis}
          onAlignment={setAlignment}
        />
      </div>
      <TracePicture
        key={traces.map(({ runId }) => runId).join()}
        traces={traces}
        names={names}
        axis={axis}
        alignment={alignment}
        unit={unit}
        title={`Traces: ${titleOf(shown)}`}
      />
      <p className="mt-1 text-sm">
        <Link className="underline" href={`/runs/${encodeURIComponent(first.runId)}?${query}`}>
          Look closer, with what was found
        </Link>
        {traces.length < shown.rows.length && (
          <span className="text-secondary">
            {" "}
            · the first {traces.length} rigs that have a trace
          </span>
        )}
      </p>
    </>
  );
}
