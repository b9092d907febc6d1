"use client";

import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { useState } from "react";
import { levelWords, type Correction } from "@/core/run/mark";
import { tellReading } from "@/core/reading/reading-words";
import type { OpenTrace } from "@/core/study/open-trace";
import { formatMoment } from "@/core/units/day";
import { formatDuration, formatNumber, ratesIn } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Combobox } from "../controls/combobox";
import { send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { sayFailed } from "../controls/toast";
import { useUnit } from "../frame/unit";
import { LatencyPicture } from "../measure/pictures/latency";
import { AXES, type Alignment, type Axis } from "./axis";
import { MarksTable } from "./marks-table";
import { RunFoot } from "./run-foot";
import { TraceToggles } from "./trace-toggles";
import { TracePicture } from "./trace-picture";

/** A run that could be laid over the one that is shown. */
export interface RunChoice {
  runId: string;
  name: string;
  hint: string;
}

/** What happened in one run; others can be laid over it. */
export function TraceView({
  traces,
  names,
  choices,
}: {
  /** The run that is read, and those laid over it. */
  traces: OpenTrace[];
  names: string[];
  choices: RunChoice[];
}) {
  const router = useRouter();
  const path = usePathname();
  const query = useSearchParams();
  const unit = useUnit();
  const [first] = traces as [OpenTrace];
  // What was read anew after a correction holds until the page brings the run itself anew.
  const [corrected, setCorrected] = useState({ of: first.reading, reading: first.reading });
  const reading = corrected.of === first.reading ? corrected.reading : first.reading;
  const [corrections, setCorrections] = useState(first.corrections);
  const said = query.get("by") ?? "";
  const small = traces.every((one) => one.smallBlock !== null);
  const axis = said in AXES && (said !== "ops" || small) ? (said as Axis) : "time";
  const alignment: Alignment = query.get("align") === "edge" ? "edge" : "start";
  const ask = (change: (next: URLSearchParams) => void) => {
    const next = new URLSearchParams(query);
    change(next);
    router.replace(`${path}?${next}`, { scroll: false });
  };
  const runs = traces.map(({ runId }) => runId);
  const lay = (ids: string[]) =>
    ask((next) => {
      next.delete("run");
      for (const id of ids) next.append("run", id);
    });
  const correct = async (next: Correction[]) => {
    const before = corrections;
    setCorrections(next);
    const sent = await send<OpenTrace["reading"]>("PUT", `/api/runs/${first.runId}/corrections`, {
      corrections: next,
    });
    if (sent.ok) return setCorrected({ of: first.reading, reading: sent.data });
    setCorrections(before);
    sayFailed(sent.error.message);
  };
  const shown = [{ ...first, reading, corrections }, ...traces.slice(1)];
  return (
    <>
      <p className="mt-4 text-[13px] text-secondary">
        {names[0]} · {first.summary} · {formatMoment(first.createdAt)} · {first.origin} ·{" "}
        {formatNumber(first.samples)} samples
      </p>
      <h1 className="mt-1 font-serif text-[26px] leading-8">
        {reading
          ? tellReading(reading, ratesIn(unit).said, first)
          : "The steps of this drill change its rate by themselves: no levels are looked for."}
      </h1>
      {reading && (
        <p className="mt-1">
          {(
            [
              ["burst", reading.burstMBps],
              ["steady", reading.steadyMBps],
              ["sustained", reading.sustainedMBps],
            ] as const
          ).map(([what, mbps]) => (
            <span key={what} className="mr-4">
              {what} <b className="figure">{ratesIn(unit).said(mbps)}</b>
            </span>
          ))}
          {corrections.length > 0 && (
            <span className="font-semibold">✎ corrected by hand in {corrections.length}</span>
          )}
        </p>
      )}
      <section className="mt-3 border border-line bg-sheet px-4 py-3">
        <div className="mb-1 flex flex-wrap items-center gap-4">
          <TraceToggles
            traces={traces}
            axis={axis}
            alignment={alignment}
            onAxis={(value) => ask((next) => next.set("by", value))}
            onAlignment={(value) => ask((next) => next.set("align", value))}
          />
          <div className="ml-auto w-64">
            <Combobox
              label="Lay another run over it"
              name="overlay"
              shown="Lay another run over it"
              groups={[
                {
                  heading: "runs of this study",
                  items: choices
                    .filter(({ runId }) => !runs.includes(runId))
                    .map(({ runId, name, hint }) => ({ id: runId, text: name, hint })),
                },
              ]}
              onPick={(id) => lay([...runs, id].slice(0, 6))}
            />
          </div>
        </div>
        <TracePicture
          traces={shown}
          names={names}
          axis={axis}
          alignment={alignment}
          unit={unit}
          title={`${names[0]}, ${first.drill}`}
          statement={reading ? tellReading(reading, ratesIn(unit).said, first) : undefined}
        />
        {traces.length > 1 && (
          <Overlaid
            traces={shown}
            names={names}
            onDrop={(id) => lay(runs.filter((run) => run !== id))}
          />
        )}
      </section>
      {reading && (
        <section className="mt-4 border border-line bg-sheet px-4 py-3">
          <h2 className="mb-1 font-semibold">What was found in it</h2>
          <MarksTable
            marks={reading.marks}
            corrections={corrections}
            startMs={first.startMs}
            onCorrect={correct}
          />
          <Levels trace={shown[0]!} />
        </section>
      )}
      {first.timed && (
        <section className="mt-4 border border-line bg-sheet px-4 py-3">
          <h2 className="font-semibold">How long requests took</h2>
          <LatencyPicture
            step={first.timed}
            caption={{ title: `${names[0]}, ${first.drill}`, note: first.summary }}
          />
        </section>
      )}
      <RunFoot trace={first} onChanged={() => router.refresh()} />
    </>
  );
}

/** The levels with their exact values. */
function Levels({ trace }: { trace: OpenTrace }) {
  const unit = useUnit();
  const rate = ratesIn(unit).said;
  return (
    <table className="mt-3 w-full">
      <caption className="text-left text-[13px] text-secondary">Levels</caption>
      <thead>
        <tr>
          <th className={HEAD}>level</th>
          {["from", "to", "from bytes", "to bytes", "rate"].map((head) => (
            <th key={head} className={HEAD_RIGHT}>
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {trace.reading!.levels.map((level) => (
          <tr key={level.fromMs} data-level={level.name}>
            <td className={CELL}>{levelWords(level, trace.reading!.marks)}</td>
            <td className={FIGURE}>{formatDuration(level.fromMs - trace.startMs)}</td>
            <td className={FIGURE}>{formatDuration(level.toMs - trace.startMs)}</td>
            <td className={FIGURE}>{formatSize(level.fromBytes, 1000)}</td>
            <td className={FIGURE}>{formatSize(level.toBytes, 1000)}</td>
            <td className={`${FIGURE} font-semibold`}>{rate(level.rateMBps)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Runs that lie over each other, held against each other in figures. */
function Overlaid({
  traces,
  names,
  onDrop,
}: {
  traces: readonly OpenTrace[];
  names: readonly string[];
  onDrop: (runId: string) => void;
}) {
  const rate = ratesIn(useUnit()).said;
  const until = Math.min(...traces.map(({ startMs, endMs }) => endMs - startMs));
  const movedIn = ({ places, startMs }: OpenTrace) =>
    places.findLast(({ toMs }) => toMs - startMs <= until)?.bytes ?? 0;
  return (
    <>
      <p className="mt-2">
        After {formatDuration(until)}:{" "}
        {traces.map((trace) => formatSize(movedIn(trace), 1000)).join(" against ")}.
      </p>
      <table className="mt-1 w-full">
        <thead>
          <tr>
            <th className={HEAD}>run</th>
            {["burst", "sustained", "cache’s edge", `moved in ${formatDuration(until)}`].map(
              (head) => (
                <th key={head} className={HEAD_RIGHT}>
                  {head}
                </th>
              ),
            )}
            <th className={HEAD}>
              <span className="sr-only">actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {traces.map((trace, i) => (
            <tr key={trace.runId}>
              <td className={CELL}>{names[i]}</td>
              <td className={FIGURE}>{trace.reading ? rate(trace.reading.burstMBps) : "—"}</td>
              <td className={FIGURE}>{trace.reading ? rate(trace.reading.sustainedMBps) : "—"}</td>
              <td className={FIGURE}>
                {trace.reading?.cacheEdge
                  ? formatSize(trace.reading.cacheEdge.bytes, 1000)
                  : "none"}
              </td>
              <td className={FIGURE}>{formatSize(movedIn(trace), 1000)}</td>
              <td className={`${CELL} text-right`}>
                {i > 0 && (
                  <button type="button" className="underline" onClick={() => onDrop(trace.runId)}>
                    Remove from the picture
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
