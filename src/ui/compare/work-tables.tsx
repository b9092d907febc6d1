import { tellWork, type WorkShown } from "@/core/compare/works";
import { formatDuration, formatPercent } from "@/core/units/number";
import { Link } from "../controls/link";
import { TimeBar } from "../controls/time-bar";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";

const long = (seconds: number) => formatDuration(seconds * 1e3);

/** Recorded work that was done again, over rigs: by its time, and how much of that it waited. */
export function WorkTables({ works }: { works: readonly WorkShown[] }) {
  const rates = useRates();
  if (works.length === 0) return null;
  return (
    <section className="mt-5" id="works">
      <h2 className="font-serif text-xl">Your work, done again</h2>
      {works.map((work) => {
        const longest = Math.max(...work.rows.map(({ seconds }) => seconds));
        return (
          <div key={`${work.name} ${work.how}`} className="mt-2">
            <p className="font-serif text-[19px] leading-snug [overflow-wrap:anywhere]">
              {tellWork(work, rates)}
            </p>
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
                      <td className={`${CELL} min-w-28`}>
                        <span className="font-serif italic">{row.letter}</span>{" "}
                        <Link
                          className="underline [overflow-wrap:anywhere]"
                          href={`/runs/${encodeURIComponent(row.runIds[0]!)}`}
                        >
                          {row.name}
                        </Link>
                      </td>
                      <td className={`${CELL} max-sm:hidden`} aria-hidden>
                        <TimeBar
                          seconds={row.seconds}
                          waited={row.waitedSeconds ?? 0}
                          longest={longest}
                        />
                      </td>
                      <td className={`${FIGURE} font-semibold`}>{long(row.seconds)}</td>
                      <td className={FIGURE}>
                        {row.waitedSeconds === null
                          ? "—"
                          : `${long(row.waitedSeconds)}, ${formatPercent(Math.min(1, row.waitedSeconds / row.seconds))}`}
                      </td>
                      <td className={FIGURE}>
                        {formatPercent(row.seconds / work.recordedSeconds)}
                      </td>
                      <td className={FIGURE}>
                        {row.spread === null ? "—" : formatPercent(row.spread)}
                      </td>
                      <td className={FIGURE}>{row.n}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
            <p className="mt-1 text-[13px] text-secondary">
              In the recording it took {long(work.recordedSeconds)}; done again {work.how}.
            </p>
          </div>
        );
      })}
    </section>
  );
}
