import { Link } from "../controls/link";
import type { JobShown } from "@/core/compare/jobs";
import { WAYS } from "../measure/form/ways";
import { formatPercent, formatSeconds } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";

/** Named jobs that other programs did, over rigs: by their seconds, beside the drills. */
export function JobTables({ jobs }: { jobs: readonly JobShown[] }) {
  const { unit, rate } = useRates();
  if (jobs.length === 0) return null;
  return (
    <section className="mt-5" id="jobs">
      <h2 className="font-serif text-xl">Jobs that other programs did</h2>
      {jobs.map(({ name, direction, rows }) => {
        const alike = rows.filter(({ otherAmount }) => !otherAmount);
        const fastest = Math.min(...(alike.length > 0 ? alike : rows).map((row) => row.seconds));
        return (
          <div key={`${name} ${direction}`} className="mt-2 overflow-x-auto">
            <table className="w-full max-w-3xl">
              <caption className="mb-1 text-left font-semibold [overflow-wrap:anywhere]">
                {name}, {WAYS[direction]}
              </caption>
              <thead>
                <tr>
                  <th className={HEAD}>rig</th>
                  <th className={HEAD_RIGHT}>time</th>
                  <th className={HEAD_RIGHT}>of the fastest</th>
                  <th className={HEAD_RIGHT}>{unit}</th>
                  <th className={HEAD_RIGHT}>moved</th>
                  <th className={HEAD_RIGHT}>times done</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <tr key={row.rigId}>
                    <td className={CELL}>
                      <span className="font-serif italic">{row.letter}</span>{" "}
                      <Link
                        className="underline [overflow-wrap:anywhere]"
                        href={`/runs/${encodeURIComponent(row.runIds[0]!)}`}
                      >
                        {row.name}
                      </Link>
                    </td>
                    <td className={`${FIGURE} font-semibold`}>{formatSeconds(row.seconds)}</td>
                    <td className={FIGURE}>
                      {row.otherAmount ? "another amount" : formatPercent(row.seconds / fastest)}
                    </td>
                    <td className={FIGURE}>{rate(row.mbps)}</td>
                    <td className={FIGURE}>{formatSize(row.bytes, 1000)}</td>
                    <td className={FIGURE}>
                      {row.n}
                      {row.origins.includes("typed") && (
                        <span className="font-sans text-[13px]"> by stopwatch</span>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        );
      })}
      <p className="mt-1 text-sm text-secondary">
        What another program asks of a drive is not known: a job is held against the same job only.
      </p>
    </section>
  );
}
