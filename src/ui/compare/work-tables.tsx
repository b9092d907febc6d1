"use client";

import { useQuery } from "@tanstack/react-query";
import { foretoldRows, tellForetold, type ForetoldRow } from "@/core/compare/foretold-rows";
import type { ShownComparison } from "@/core/compare/shown";
import { tellWork, type WorkRow, type WorkShown } from "@/core/compare/works";
import { ForetoldWorks } from "@/core/replay/foretold";
import { formatDuration, formatPercent } from "@/core/units/number";
import { Link } from "../controls/link";
import { send } from "../controls/send";
import { TimeBar } from "../controls/time-bar";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";

const long = (seconds: number) => formatDuration(seconds * 1e3);

/** Recorded work that was done again, over rigs: by its time, and how much of that it waited. */
export function WorkTables({
  studyId,
  shown: { works, rigs },
}: {
  /** Null where rigs of several studies stand side by side. */
  studyId: string | null;
  shown: Pick<ShownComparison, "works" | "rigs">;
}) {
  const rates = useRates();
  const { data } = useQuery({
    queryKey: ["foretold", studyId, works.map(({ key }) => key)],
    enabled: studyId !== null,
    queryFn: async ({ signal }) => {
      const sent = await send("GET", `/api/studies/${studyId}/works`, undefined, { signal });
      return sent.ok ? ForetoldWorks.parse(sent.data) : NONE;
    },
  });
  const { undone, times } = data ?? NONE;
  // Only those whose rigs stand on the page.
  const foretold = undone
    .map((work) => ({ ...work, rows: [] }))
    .map((work) => ({ work, ...foretoldRows(work, times, rigs) }))
    .filter(({ rows }) => rows.length > 0);
  if (works.length + foretold.length === 0) return null;
  return (
    <section className="mt-5" id="works">
      <h2 className="font-serif text-xl">
        {works.length > 0 ? "Your work, done again" : "Your work, predicted"}
      </h2>
      {works.map((work) => (
        <div key={work.key} className="mt-2">
          <p className="font-serif text-[19px] leading-snug [overflow-wrap:anywhere]">
            {tellWork(work, rates)}
          </p>
          <WorkTable work={work} {...foretoldRows(work, times, rigs)} />
        </div>
      ))}
      {foretold.map(({ work, rows, off }) => (
        <div key={work.key} className="mt-2">
          <p className="font-serif text-[19px] leading-snug [overflow-wrap:anywhere]">
            {tellForetold(work.name, rows)}
          </p>
          <WorkTable work={work} rows={rows} off={off} />
        </div>
      ))}
    </section>
  );
}

const NONE: ForetoldWorks = { undone: [], times: [] };

function WorkTable({
  work,
  rows,
  off,
}: {
  work: WorkShown;
  /** Rigs that it was not done on. */
  rows: readonly ForetoldRow[];
  off: number | null;
}) {
  const longest = Math.max(...[...work.rows, ...rows].map(({ seconds }) => seconds));
  return (
    <>
      <div className="overflow-x-auto">
        <table className="mt-1 w-full max-w-4xl">
          <thead>
            <tr>
              <th className={HEAD}>rig</th>
              <th className={`${HEAD} w-1/4 max-sm:hidden`}>
                <span className="sr-only">time, and waiting in it, as a bar</span>
              </th>
              <th className={HEAD_RIGHT}>time</th>
              <th className={HEAD_RIGHT}>waited for the drive</th>
              <th className={HEAD_RIGHT}>of the recording</th>
              <th className={HEAD_RIGHT}>spread</th>
              <th className={HEAD_RIGHT}>times done</th>
            </tr>
          </thead>
          <tbody>
            {work.rows.map((row) => (
              <tr key={row.rigId}>
                <RigCell row={row} href={`/runs/${encodeURIComponent(row.runIds[0]!)}`} />
                <TimeCells row={row} longest={longest} recorded={work.recordedSeconds} />
                <td className={FIGURE}>{row.spread === null ? "—" : formatPercent(row.spread)}</td>
                <td className={FIGURE}>{row.n}</td>
              </tr>
            ))}
            {rows.map((row) => (
              <tr key={row.rigId} className="text-secondary">
                <RigCell row={row} href={null} />
                <TimeCells row={row} longest={longest} recorded={work.recordedSeconds} />
                <td className={`${CELL} text-right`} colSpan={2}>
                  predicted
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1 text-[13px] text-secondary">
        In the recording it took {long(work.recordedSeconds)}; done again {work.how}.
        {rows.length > 0 &&
          ` What is predicted follows from Stride ladders, without cache and heat${off === null ? "; no rig with ladders was measured with this work, so how far that is off is not known" : `; where the work was measured too, it was ${off < LEAST_OFF ? `less than ${formatPercent(LEAST_OFF)}` : formatPercent(off)} off at most`}.`}
      </p>
    </>
  );
}

/** Less than this is not told apart from nothing. */
const LEAST_OFF = 0.001;

type Row = WorkRow | ForetoldRow;

function RigCell({ row, href }: { row: Row; href: string | null }) {
  return (
    <td className={`${CELL} min-w-28`}>
      <span className="font-serif italic">{row.letter}</span>{" "}
      {href === null ? (
        <span className="[overflow-wrap:anywhere]">{row.name}</span>
      ) : (
        <Link className="underline [overflow-wrap:anywhere]" href={href}>
          {row.name}
        </Link>
      )}
    </td>
  );
}

/** The time as a bar and as figures. */
function TimeCells({ row, longest, recorded }: { row: Row; longest: number; recorded: number }) {
  const { seconds, waitedSeconds } = row;
  return (
    <>
      <td className={`${CELL} max-sm:hidden`} aria-hidden>
        <TimeBar seconds={seconds} waited={waitedSeconds ?? 0} longest={longest} />
      </td>
      <td className={`${FIGURE} font-semibold`}>{long(seconds)}</td>
      <td className={FIGURE}>
        {waitedSeconds === null
          ? "—"
          : `${long(waitedSeconds)}, ${formatPercent(Math.min(1, waitedSeconds / seconds))}`}
      </td>
      <td className={FIGURE}>{formatPercent(seconds / recorded)}</td>
    </>
  );
}
