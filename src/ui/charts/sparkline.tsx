/** How a line of a small drawing looks: reading solid, writing dashed. */
const DASHES = "3 2.5";

/** A short piece of a line, as it is drawn. */
export const LineKey = ({ dashed }: { dashed: boolean }) => (
  <svg aria-hidden viewBox="0 0 22 8" className="inline-block h-2 w-[22px] align-middle">
    <path
      d="M0 4H22"
      className="stroke-flow"
      strokeWidth={1.6}
      strokeDasharray={dashed ? DASHES : undefined}
    />
  </svg>
);

/** A line of rates over time: seconds, and any unit. */
export interface SparkLine {
  points: readonly (readonly [seconds: number, value: number])[];
  dashed: boolean;
}

const [WIDTH, HEIGHT] = [240, 30];

/** The course of some rates, small enough for a row of a table; the figures stand beside it. */
export function Sparkline({
  lines,
  from,
  to,
}: {
  lines: readonly SparkLine[];
  /** The time shown, seconds. */
  from: number;
  to: number;
}) {
  const most = Math.max(1e-9, ...lines.flatMap(({ points }) => points.map(([, value]) => value)));
  const place = ([seconds, value]: readonly [number, number]) =>
    `${(((seconds - from) / (to - from)) * WIDTH).toFixed(1)} ${(HEIGHT - 1 - (value / most) * (HEIGHT - 2)).toFixed(1)}`;
  return (
    <svg
      aria-hidden
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="inline-block h-[30px] w-36 sm:w-60"
      fill="none"
    >
      <path d={`M0 ${HEIGHT - 0.5}H${WIDTH}`} className="stroke-line" />
      {lines.map(({ points, dashed }, i) =>
        points.length < 2 ? null : (
          <path
            key={i}
            d={`M${points.map(place).join("L")}`}
            className="stroke-flow"
            strokeWidth={1.4}
            strokeDasharray={dashed ? DASHES : undefined}
          />
        ),
      )}
    </svg>
  );
}
