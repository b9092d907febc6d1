import type { LetteredRig } from "@/core/answer/lettered-rig";
import { formatMicroseconds, formatNumber, formatPercent, formatRate } from "@/core/units/number";
import { kindOf } from "@/core/drills/drill";
import { summarise } from "@/core/stats/repeats";
import { inUnit, type RateUnit } from "@/core/units/rate";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

/** The exact values behind the drawing, with n and spread. */
export function ResultsTable({ rigs, unit }: { rigs: LetteredRig[]; unit: RateUnit }) {
  const small = rigs.some(
    ({ observation }) => observation && kindOf(observation.drill).shows.includes("iops"),
  );
  const rate = (mbps: number) => formatRate(inUnit(mbps, unit));
  return (
    <table className="w-full">
      <caption className="sr-only">Observed rates against ceilings, in {unit}</caption>
      <thead>
        <tr>
          <th className={HEAD}>rig</th>
          <th className={HEAD_RIGHT}>{unit}</th>
          {small && <th className={HEAD_RIGHT}>requests a second</th>}
          <th className={HEAD_RIGHT}>hard ceiling</th>
          <th className={HEAD_RIGHT}>efficiency</th>
          <th className={HEAD_RIGHT}>spread</th>
          <th className={HEAD_RIGHT}>95 % interval</th>
          <th className={HEAD_RIGHT}>n</th>
          <th className={HEAD_RIGHT}>p50 / p99</th>
        </tr>
      </thead>
      <tbody>
        {rigs.map(({ letter, rig, observation, finding }) => {
          const repeats = observation?.repeats;
          const latency = observation?.results.at(-1)?.latencyUs;
          return (
            <tr key={rig.id}>
              <th
                className={`${CELL} max-w-64 min-w-36 text-left font-medium [overflow-wrap:anywhere]`}
              >
                <span className="font-serif italic">{letter}</span>&ensp;{rig.name}
                {observation && observation.origin !== "measured" && (
                  <span className="ml-2 text-[13px] font-normal text-secondary">
                    {observation.origin}
                  </span>
                )}
                {observation?.cautions.map((caution) => (
                  <span key={caution} className="block text-[13px] font-normal whitespace-normal">
                    ⚠ {caution}
                  </span>
                ))}
              </th>
              {repeats ? (
                <>
                  <td className={`${FIGURE} font-semibold`}>{rate(repeats.median)}</td>
                  {small && (
                    <td className={FIGURE}>
                      {formatNumber(summarise(observation!.results.map(({ iops }) => iops)).median)}
                    </td>
                  )}
                  <td className={FIGURE}>{finding ? rate(finding.bottleneck.ceiling) : "—"}</td>
                  <td className={FIGURE}>{finding ? formatPercent(finding.efficiency) : "—"}</td>
                  <td className={FIGURE}>{repeats.n > 1 ? formatPercent(repeats.spread) : "—"}</td>
                  <td className={FIGURE}>
                    {repeats.interval
                      ? `${rate(repeats.interval.low)} – ${rate(repeats.interval.high)}`
                      : "one run: none"}
                  </td>
                  <td className={FIGURE}>{formatNumber(repeats.n)}</td>
                  <td className={FIGURE}>
                    {latency && latency.p50 > 0
                      ? `${formatMicroseconds(latency.p50)} / ${formatMicroseconds(latency.p99)}`
                      : "—"}
                  </td>
                </>
              ) : (
                <td className={`${CELL} text-secondary`} colSpan={small ? 8 : 7}>
                  not measured
                </td>
              )}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
