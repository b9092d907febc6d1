import { keptName, type HeldAgainst, type Side } from "@/core/simulate/held-against";
import { formatDuration } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { useRates } from "../frame/unit";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

/** The figures of both side by side, and what the simulation took for granted. */
export function HeldFigures({ held }: { held: HeldAgainst }) {
  const { unit, rate } = useRates();
  const { measured, simulated, assumed, hottest } = held;
  const ofWork: [string, (side: Side) => string][] = [
    ["time for the work", ({ ms }) => formatDuration(ms)],
    ["of that, waiting for the drive", ({ waitedMs }) => formatDuration(waitedMs ?? 0)],
  ];
  const ofRate: [string, (side: Side) => string][] = [
    [`mean, ${unit}`, (side) => rate(side.meanMBps)],
    [`best five seconds, ${unit}`, (side) => rate(side.burstMBps)],
    [`sustained, ${unit}`, (side) => rate(side.sustainedMBps)],
    [
      "written before it fell",
      ({ edgeBytes }) => (edgeBytes === null ? "it did not" : formatSize(edgeBytes, 1000)),
    ],
  ];
  const rows = simulated.waitedMs === null ? ofRate : ofWork;
  const sides = [...(measured ? [measured] : []), simulated];
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 xl:grid-cols-2">
      <section className="border border-line bg-sheet px-4 py-3">
        <h2 className="mb-1 font-semibold">Figures</h2>
        <table className="w-full">
          <thead>
            <tr>
              <th className={HEAD}>
                <span className="sr-only">figure</span>
              </th>
              {measured && <th className={HEAD_RIGHT}>{keptName(measured.origin)}</th>}
              <th className={HEAD_RIGHT}>simulated now</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, of]) => (
              <tr key={name}>
                <th className={`${CELL} text-left font-normal`}>{name}</th>
                {sides.map((side, i) => (
                  <td key={i} className={FIGURE}>
                    {of(side)}
                  </td>
                ))}
              </tr>
            ))}
            {hottest && (
              <tr>
                <th className={`${CELL} text-left font-normal`}>hottest, {hottest.part}</th>
                {measured && <td className={FIGURE}>—</td>}
                <td className={FIGURE}>{Math.round(hottest.celsius)} °C</td>
              </tr>
            )}
          </tbody>
        </table>
      </section>
      {assumed.length > 0 && (
        <section className="border border-line bg-sheet px-4 py-3">
          <h2 className="mb-1 font-semibold">Taken for granted</h2>
          <ul className="text-sm">
            {assumed.map(({ what, value, why }) => (
              <li key={what} className="border-b border-line py-0.5">
                {what}: <b className="font-medium">{value}</b>
                <span className="text-secondary">, as {why}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
