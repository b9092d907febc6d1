"use client";

import type { Drift } from "@/core/drift/drift";
import type { DriftWords } from "@/core/drift/drift-words";
import { seriesWords } from "@/core/drift/relative";
import { counted } from "@/core/units/counted";
import { formatDay } from "@/core/units/day";
import { writing } from "@/core/units/writing";
import { Fold } from "../controls/fold";
import { Link } from "../controls/link";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { RefreshWhile } from "../frame/refresh-while";
import { useRates } from "../frame/unit";
import { DriftPicture } from "./drift-picture";

/** How the rates of a part changed over time: the result, what it rests on, and every day that was measured. */
export function OverTime({
  told,
  waiting,
}: {
  /** Null where the part stands in no measured rig. */
  told: { drift: Drift; words: DriftWords } | null;
  waiting: number;
}) {
  const reading = (
    <RefreshWhile going={waiting > 0}>
      Nerrit still reads the runs of {counted(waiting, "study", "studies")}.
    </RefreshWhile>
  );
  if (!told) return reading;
  const { drift, words } = told;
  const { next } = drift;
  return (
    <section id="over-time" aria-label="Over time" className="mt-3 border border-line bg-sheet p-3">
      {reading}
      <h2 className="font-semibold">
        {words.brief && <span aria-hidden>⚠ </span>}
        {words.result}
      </h2>
      {words.evidence.length > 0 && <p className="mt-1">{words.evidence.join(" ")}</p>}
      {words.next && (
        <p className="mt-1">
          <span className="font-semibold">Next:</span> {words.next}{" "}
          {next && (
            <Link className="underline" href={`/studies/${next.studyId}/measure?rig=${next.rigId}`}>
              Measure this rig
            </Link>
          )}
        </p>
      )}
      {drift.series.length > 0 && (
        <Fold
          summary={`See ${counted(drift.days, "measured day")}`}
          open={words.brief !== ""}
          className="mt-2"
        >
          <DriftPicture drift={drift} title={words.result} />
          <Days drift={drift} />
        </Fold>
      )}
    </section>
  );
}

/** Series in a table at most, the longest first; the picture shows all of them. */
const MOST_SERIES = 20;

function Days({ drift }: { drift: Drift }) {
  const { rate, unit } = useRates();
  const shown = drift.series
    .toSorted((a, b) => b.days.length - a.days.length)
    .slice(0, MOST_SERIES);
  const left = drift.series.length - shown.length;
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>measured alike</th>
            <th className={HEAD_RIGHT}>days</th>
            <th className={HEAD}>first day</th>
            <th className={HEAD_RIGHT}>{unit}</th>
            <th className={HEAD}>last day</th>
            <th className={HEAD_RIGHT}>{unit}</th>
          </tr>
        </thead>
        <tbody>
          {shown.map(({ key, days, ...series }) => (
            <tr key={key}>
              <td className={CELL}>{seriesWords({ key, days, ...series })}</td>
              <td className={FIGURE}>{days.length}</td>
              <td className={CELL}>{formatDay(days[0]!.day, writing().dates)}</td>
              <td className={FIGURE}>{rate(days[0]!.mbps)}</td>
              <td className={CELL}>{formatDay(days.at(-1)!.day, writing().dates)}</td>
              <td className={FIGURE}>{rate(days.at(-1)!.mbps)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {left > 0 && (
        <p className="text-[13px] text-secondary">{counted(left, "more series", "more series")}</p>
      )}
    </div>
  );
}
