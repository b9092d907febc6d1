import { nameBottleneck } from "@/core/chain/wording";
import { predict } from "@/core/chain/predict";
import { requestTimes } from "@/core/chain/request-time";
import type { Rig } from "@/core/chain/rig";
import { PREDICTED_DRILLS } from "@/core/drills/shape";
import { bottleneckOf, nextBottleneck, type Bottleneck } from "@/core/chain/bottleneck";
import { formatNumber } from "@/core/units/number";
import type { Direction } from "@/core/units/rate";
import { Fold } from "../controls/fold";
import { useRates } from "../frame/unit";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

const DIRECTIONS: { direction: Direction; name: string }[] = [
  { direction: "read", name: "reading" },
  { direction: "write", name: "writing" },
];

/** What a rig should give before anything is measured: its bottleneck each way, and each drill. */
export function PredictionTable({ rig }: { rig: Rig }) {
  const { unit, rate } = useRates();
  const ways = DIRECTIONS.map((way) => ({
    ...way,
    bottleneck: bottleneckOf(rig, way.direction),
    next: nextBottleneck(rig, way.direction),
  }));
  if (ways.some(({ bottleneck }) => !bottleneck || bottleneck.ceiling <= 0)) return null;
  const whole = predict(rig, "read", PREDICTED_DRILLS[0]!)?.whole;
  const queued = predict(rig, "read", PREDICTED_DRILLS[0]!)?.queued;
  return (
    <div className="mt-2">
      {ways.map(({ name, bottleneck, next }) => (
        <p key={name}>
          Predicted bottleneck {name}: <BottleneckName bottleneck={bottleneck!} />,{" "}
          <span className="figure">{rate(bottleneck!.ceiling)}</span> {unit}.
          {next && ` Without it the next would be ${plain(next)}, ${rate(next.ceiling)} ${unit}.`}
        </p>
      ))}
      <table className="mt-1 w-full text-sm">
        <thead>
          <tr>
            <th className={HEAD}>predicted for</th>
            {DIRECTIONS.map(({ name }) => (
              <th key={name} className={HEAD_RIGHT}>
                {name}, {whole ? "" : "at most "}
                {unit} (requests a second)
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {PREDICTED_DRILLS.map((drill) => (
            <tr key={drill.what}>
              <td className={CELL}>
                {drill.title} <span className="text-secondary">{drill.what}</span>
              </td>
              {DIRECTIONS.map(({ direction }) => {
                const found = predict(rig, direction, drill);
                return (
                  <td key={direction} className={FIGURE}>
                    {found && `${rate(found.mbps)} (${formatNumber(roundTo2(found.iops))})`}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <Fold
        className="text-[13px] text-secondary"
        summary={
          <>
            {queued
              ? `Time per request${whole ? "" : " outside the medium"}: `
              : "The driver cannot queue, so one request is in flight at a time. Time per request: "}
            {formatNumber(predict(rig, "read", PREDICTED_DRILLS[0]!)!.overheadUs)} µs
            {!whole &&
              "; the drive’s own time is not known, so small requests are what the rest allows"}
          </>
        }
      >
        <ul>
          {requestTimes(rig, "read").map(({ what, us, source }, i) => (
            <li key={i}>
              {what}: <span className="figure">{formatNumber(us)}</span> µs ({source})
            </li>
          ))}
        </ul>
      </Fold>
    </div>
  );
}

/** A prediction from rounded times is no better than two digits. */
const roundTo2 = (value: number) => Number(value.toPrecision(2));

function BottleneckName({ bottleneck }: { bottleneck: Bottleneck }) {
  return nameBottleneck(bottleneck).map((segment, i) => (
    <span key={i} className={segment.bottleneck ? "font-semibold text-bottleneck" : ""}>
      {segment.text}
    </span>
  ));
}

const plain = (bottleneck: Bottleneck) =>
  nameBottleneck(bottleneck)
    .map(({ text }) => text)
    .join("");
