import { Link } from "../../controls/link";
import { ENDED } from "@/core/drills/request";
import type { Measurement, Run } from "@/core/study/measurement";
import { meanRate, spreadOfTrace } from "@/core/trace/rates";
import { formatDuration, formatNumber, formatPercent } from "@/core/units/number";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";
import { useRates } from "../../frame/unit";
import { STATUS_WORDS } from "../status";

/** What happened during the runs, and what error counters did. */
export function Happenings({ runs }: { runs: readonly Run[] }) {
  const events = runs.flatMap(({ repeat, events }) =>
    events.map((event) => ({ repeat, ...event })),
  );
  const errors = runs
    .flatMap(({ repeat, errors }) => errors.map((error) => ({ repeat, ...error })))
    .filter(({ before, after }) => after > before);
  const hottest = hottestOf(runs);
  if (events.length + errors.length + hottest.length === 0) return null;
  return (
    <div className="mt-2">
      <h3 className="font-semibold">What happened meanwhile</h3>
      <ul>
        {events.slice(0, 50).map(({ repeat, ms, text, from }, i) => (
          <li key={i}>
            <span className="figure">{formatDuration(ms)}</span>
            {runs.length > 1 && ` in repeat ${repeat + 1}`}: {text}
            {from && <span className="text-secondary"> ({from})</span>}
          </li>
        ))}
        {events.length > 50 && <li>and {events.length - 50} more</li>}
        {errors.map(({ repeat, what, from, before, after }) => (
          <li key={`${repeat}${from}`}>
            ⚠ {what}: {after - before} more than before{" "}
            <span className="text-secondary">({from})</span>
          </li>
        ))}
        {hottest.map(([what, celsius]) => (
          <li key={what}>
            {what}: <span className="figure">{celsius.toFixed(0)} °C</span> at most
          </li>
        ))}
      </ul>
    </div>
  );
}

function hottestOf(runs: readonly Run[]): [string, number][] {
  const most = new Map<string, number>();
  for (const { celsius } of runs.flatMap(({ readings }) => readings)) {
    for (const [what, value] of Object.entries(celsius)) {
      most.set(what, Math.max(value, most.get(what) ?? -Infinity));
    }
  }
  return [...most];
}

/** The figures of each repeat. */
export function RunTable({ measurement, studyId }: { measurement: Measurement; studyId: string }) {
  const { unit, rate } = useRates();
  const over = ENDED.includes(measurement.status);
  return (
    <table className="mt-3 w-full">
      <thead>
        <tr>
          <th className={HEAD}>repeat</th>
          <th className={HEAD_RIGHT}>mean, {unit}</th>
          <th className={HEAD_RIGHT}>tenths of a second: p5 / p50 / p95</th>
          <th className={HEAD_RIGHT}>requests</th>
          <th className={HEAD_RIGHT}>kernel’s counters</th>
          <th className={HEAD_RIGHT}>busiest core</th>
          <th className={HEAD}>
            <span className="sr-only">more</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {measurement.runs.map(({ id, repeat, result, samples, status, leftOut }) => {
          const trace = spreadOfTrace(samples);
          return (
            <tr key={id}>
              <td className={`${CELL} figure`}>
                {repeat + 1}
                {status === "interrupted" || status === "stopped" || status === "failed"
                  ? ` (${STATUS_WORDS[status]})`
                  : ""}
                {leftOut !== null && (
                  <span className="font-sans text-[13px]"> left out: {leftOut}</span>
                )}
              </td>
              <td className={`${FIGURE} font-semibold`}>
                {rate(result?.meanMBps ?? meanRate(samples))}
              </td>
              <td className={FIGURE}>
                {trace && [trace.p5, trace.p50, trace.p95].map(rate).join(" / ")}
              </td>
              <td className={FIGURE}>{result?.requests ? formatNumber(result.requests) : ""}</td>
              <td className={FIGURE}>
                {result &&
                  (measurement.origin === "watched"
                    ? "all of it"
                    : result.deviceBytes === null
                      ? "none kept"
                      : kernelWords(result.deviceBytes / result.bytes))}
              </td>
              <td className={FIGURE}>
                {typeof result?.busiestCore === "number" && formatPercent(result.busiestCore)}
              </td>
              <td className={`${CELL} text-right`}>
                {over && samples.length > 0 && (
                  <Link className="underline" href={`/studies/${studyId}/trace?run=${id}`}>
                    Events of this run
                  </Link>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** From here on two counts of bytes are the same. */
const SAME = 0.01;

/** How the kernel's count of bytes stands to what the engine moved. @param share theirs of ours */
const kernelWords = (share: number): string =>
  Math.abs(share - 1) < SAME ? "matches" : `${formatPercent(share)} of the bytes moved`;
