import { Link } from "../controls/link";
import type { SideBySide } from "@/core/judge/enclosures";
import { formatNumber, ratesIn } from "@/core/units/number";
import { DOING, Direction, type RateUnit } from "@/core/units/rate";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

/** The enclosures of one drive: what they claim, what they give at first and in the end, and for what price. */
export function AlongsideTable({
  side: { drive, enclosures },
  studyId,
  letterOf,
  unit,
}: {
  side: SideBySide;
  studyId: string;
  letterOf: (rigId: string) => string;
  unit: RateUnit;
}) {
  const { rate } = ratesIn(unit);
  const long = enclosures.some(({ sustained }) => Object.keys(sustained).length > 0);
  const ways = Direction.options.filter((way) => enclosures.some(({ burst }) => burst[way]));
  const shown = (one: { mbps: number; measurementIds: readonly string[] } | undefined) =>
    one ? (
      <Link
        className="underline decoration-line"
        href={`/studies/${studyId}/measure?m=${one.measurementIds[0]}`}
      >
        {rate(one.mbps)}
      </Link>
    ) : (
      <span className="text-secondary">–</span>
    );
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <caption className="text-left text-[15px]">
          {drive.name} in each, {unit}
        </caption>
        <thead>
          <tr>
            <th className={HEAD}>enclosure</th>
            {ways.map((way) => (
              <th key={`c${way}`} className={HEAD_RIGHT}>
                claims {DOING[way]}
              </th>
            ))}
            {ways.map((way) => (
              <th key={`b${way}`} className={HEAD_RIGHT}>
                burst {DOING[way]}
              </th>
            ))}
            {long &&
              ways.map((way) =>
                enclosures.some(({ sustained }) => sustained[way]) ? (
                  <th key={`s${way}`} className={HEAD_RIGHT}>
                    sustained {DOING[way]}
                  </th>
                ) : null,
              )}
            <th className={HEAD_RIGHT}>hottest</th>
            <th className={HEAD_RIGHT}>for each 100 MB/s</th>
          </tr>
        </thead>
        <tbody>
          {enclosures.map(({ part, rigs, claim, burst, sustained, celsius, heldBy, per100 }) => (
            <tr key={part.id}>
              <td className={CELL}>
                <span className="font-semibold">{part.name}</span>{" "}
                <span className="font-serif text-secondary italic">
                  {rigs.map(({ id }) => letterOf(id)).join(", ")}
                </span>
                {heldBy.length > 0 && (
                  <span className="block text-[14px] text-secondary">
                    held there by {heldBy.join(", ")}
                  </span>
                )}
              </td>
              {ways.map((way) => (
                <td key={`c${way}`} className={FIGURE}>
                  {claim[way] ? rate(claim[way]) : <span className="text-secondary">–</span>}
                </td>
              ))}
              {ways.map((way) => (
                <td key={`b${way}`} className={FIGURE}>
                  {shown(burst[way])}
                </td>
              ))}
              {long &&
                ways.map((way) =>
                  enclosures.some((one) => one.sustained[way]) ? (
                    <td key={`s${way}`} className={FIGURE}>
                      {shown(sustained[way])}
                    </td>
                  ) : null,
                )}
              <td className={FIGURE}>{celsius === null ? "–" : `${Math.round(celsius)} °C`}</td>
              <td className={FIGURE}>
                {per100 ? `${formatNumber(per100.amount, 2)} ${per100.currency}` : "–"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
