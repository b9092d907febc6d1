import type { LetteredRig } from "@/core/answer/study";
import { formatMicroseconds, formatNumber, formatPercent, formatRate } from "@/core/units/number";
import { inUnit, type RateUnit } from "@/core/units/rate";

const HEAD =
  "border-b border-line px-2 py-1 text-[13px] font-medium text-secondary whitespace-nowrap";
const CELL = "figure border-b border-line px-2 py-1 text-right text-[14px] whitespace-nowrap";

/** The exact values behind the drawing, with n and spread. */
export function ResultsTable({ rigs, unit }: { rigs: LetteredRig[]; unit: RateUnit }) {
  const rate = (mbps: number) => formatRate(inUnit(mbps, unit));
  return (
    <table className="w-full">
      <caption className="sr-only">Observed rates against ceilings, in {unit}</caption>
      <thead>
        <tr>
          <th className={`${HEAD} text-left`}>rig</th>
          <th className={`${HEAD} text-right`}>{unit}</th>
          <th className={`${HEAD} text-right`}>hard ceiling</th>
          <th className={`${HEAD} text-right`}>efficiency</th>
          <th className={`${HEAD} text-right`}>spread</th>
          <th className={`${HEAD} text-right`}>95 % interval</th>
          <th className={`${HEAD} text-right`}>n</th>
          <th className={`${HEAD} text-right`}>p50 / p99</th>
        </tr>
      </thead>
      <tbody>
        {rigs.map(({ letter, rig, observation, finding }) => {
          const repeats = observation?.repeats;
          const latency = observation?.results.at(-1)?.latencyUs;
          return (
            <tr key={rig.id}>
              <th className="max-w-64 truncate border-b border-line px-2 py-1 text-left font-medium">
                <span className="font-serif italic">{letter}</span>&ensp;{rig.name}
                {observation?.cautions.map((caution) => (
                  <span key={caution} className="block text-[13px] font-normal whitespace-normal">
                    ⚠ {caution}
                  </span>
                ))}
              </th>
              {repeats ? (
                <>
                  <td className={`${CELL} font-semibold`}>{rate(repeats.median)}</td>
                  <td className={CELL}>{finding ? rate(finding.narrows.ceiling) : "—"}</td>
                  <td className={CELL}>{finding ? formatPercent(finding.efficiency) : "—"}</td>
                  <td className={CELL}>{repeats.n > 1 ? formatPercent(repeats.spread) : "—"}</td>
                  <td className={CELL}>
                    {repeats.interval
                      ? `${rate(repeats.interval.low)} – ${rate(repeats.interval.high)}`
                      : "one run: none"}
                  </td>
                  <td className={CELL}>{formatNumber(repeats.n)}</td>
                  <td className={CELL}>
                    {latency &&
                      `${formatMicroseconds(latency.p50)} / ${formatMicroseconds(latency.p99)}`}
                  </td>
                </>
              ) : (
                <td className={`${CELL} text-secondary`} colSpan={7}>
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
