"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { letterOf } from "@/core/answer/study";
import type { Rig } from "@/core/chain/rig";
import { targetsOf, type Measurement } from "@/core/study/measurement";
import { summarise } from "@/core/stats/repeats";
import { titleOf, type OwnDrill } from "@/core/drills/drill";
import type { RunStatus } from "@/core/drills/request";
import type { Direction } from "@/core/units/rate";
import { formatRate } from "@/core/units/number";
import { LiveMeasurement } from "./live-measurement";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { MeasureForm } from "./measure-form";
import { STATUS_WORDS } from "./status";

/** Measure a rig; look at what was measured. */
export function MeasureView({
  studyId,
  rigs,
  measurements,
  rigId,
  direction,
  drill,
  own,
  shownId,
}: {
  studyId: string;
  rigs: Rig[];
  measurements: Measurement[];
  rigId: string | null;
  direction: Direction;
  /** The drill that is asked for, by name. */
  drill: string;
  /** The tester's own drills. */
  own: OwnDrill[];
  /** The measurement to show in full. */
  shownId: string | null;
}) {
  const router = useRouter();
  // The table is as old as the page; what is followed live stands as it does now.
  const [live, setLive] = useState<{ id: string; status: RunStatus } | null>(null);
  const show = (id: string) =>
    router.push(`/studies/${studyId}/measure?m=${id}`, { scroll: false });
  const letter = (id: string) => {
    const index = rigs.findIndex((rig) => rig.id === id);
    return index < 0 ? "–" : letterOf(index);
  };
  const real = measurements.filter(({ conditions }) => !conditions?.simulated);
  const last = real.find((m) => m.rigId === rigId) ?? real[0];
  const shown = measurements.find(({ id }) => id === shownId);

  return (
    <>
      <h1 className="mt-4 mb-3 font-serif text-[28px]">Measure</h1>
      <div className="space-y-4">
        {shownId && (
          <LiveMeasurement
            key={shownId}
            id={shownId}
            letter={shown ? letter(shown.rigId) : ""}
            studyId={studyId}
            onStatus={(status) => setLive({ id: shownId, status })}
          />
        )}
        <MeasureForm
          rigs={rigs}
          rigId={rigId}
          direction={direction}
          target={(last && targetsOf(last)[0]) ?? ""}
          drill={drill}
          own={own}
          onKept={() => router.refresh()}
          onStarted={(id) => {
            router.push(`/studies/${studyId}/measure?m=${id}`, { scroll: false });
            router.refresh();
          }}
        />
        {measurements.length > 0 && (
          <section className="border border-line bg-sheet p-4">
            <h2 className="mb-1 font-semibold">Measured so far</h2>
            <table className="w-full">
              <thead>
                <tr>
                  <th className={HEAD}>rig</th>
                  <th className={HEAD}>drill</th>
                  <th className={HEAD}>where</th>
                  <th className={HEAD}>when</th>
                  <th className={HEAD}>state</th>
                  <th className={HEAD_RIGHT}>median, MB/s</th>
                  <th className={HEAD_RIGHT}>n</th>
                  <th className={HEAD}>
                    <span className="sr-only">actions</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {measurements.map((m) => {
                  const means = m.runs.flatMap(({ result }) => (result ? [result.meanMBps] : []));
                  return (
                    <tr key={m.id} className={m.id === shownId ? "bg-bank" : ""}>
                      <td className={CELL}>
                        <span className="font-serif italic">{letter(m.rigId)}</span>&ensp;
                        {m.rig.name}
                      </td>
                      <td className={CELL}>
                        {titleOf(m.drill)},{" "}
                        {{ read: "reading", write: "writing", mixed: "mixed" }[m.drill.direction]}
                      </td>
                      <td className={`${CELL} [overflow-wrap:anywhere]`}>
                        {targetsOf(m).join(", ")}
                      </td>
                      <td className={`${CELL} figure text-[13px]`}>
                        {m.createdAt.slice(0, 16).replace("T", " ")}
                      </td>
                      <td className={CELL}>
                        {m.conditions?.simulated
                          ? "simulated"
                          : STATUS_WORDS[live?.id === m.id ? live.status : m.status]}
                      </td>
                      <td className={FIGURE}>
                        {means.length > 0 && formatRate(summarise(means).median)}
                      </td>
                      <td className={FIGURE}>{means.length}</td>
                      <td className={`${CELL} text-right`}>
                        <button type="button" className="underline" onClick={() => show(m.id)}>
                          Trace
                        </button>
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </section>
        )}
      </div>
    </>
  );
}
