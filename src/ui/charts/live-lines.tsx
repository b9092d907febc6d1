"use client";

import { formatNumber } from "@/core/units/number";
import { inUnit } from "@/core/units/rate";
import { useWidth } from "../controls/use-width";
import { useRates } from "../frame/unit";
import { drawnElement } from "../out/drawn-element";
import type { Out } from "../out/drawn";
import { OutMenu } from "../out/out-menu";

/** A line of rates over time; null is a gap. */
export interface LiveLine {
  points: readonly (readonly [seconds: number, mbps: number] | null)[];
  dashed?: boolean;
}

/** A rate that cannot be exceeded. MB/s. */
export interface LiveCeiling {
  name: string;
  mbps: number;
  dashed?: boolean;
}

/**
 * Rates that move while one looks. Drawn by hand and with few points: a chart costs a twentieth of a core
 * at one picture a second, which whatever is measured beside it would miss.
 */
export function LiveLines({
  label,
  lines,
  ceilings,
  from,
  to,
  height = 240,
  out,
}: {
  /** What it shows, for those who do not see it. */
  label: string;
  lines: readonly LiveLine[];
  ceilings: readonly LiveCeiling[];
  /** The time shown, seconds. */
  from: number;
  to: number;
  height?: number;
  /** How it is saved as it stands; left out where it is not. */
  out?: Out;
}) {
  const { unit, rate } = useRates();
  const [ref, width] = useWidth<HTMLDivElement>(1180);
  const fastest = Math.max(
    1,
    ...ceilings.map(({ mbps }) => mbps),
    ...lines.flatMap(({ points }) => points.map((point) => point?.[1] ?? 0)),
  );
  // Round numbers in the unit that is read.
  const per = 1 / inUnit(1, unit);
  const step = stepOf(fastest / 3 / per) * per;
  const top = Math.ceil((fastest * 1.02) / step) * step;
  const x = (at: number) => LEFT + ((at - from) / (to - from)) * (width - LEFT - RIGHT);
  const y = (mbps: number) => TOP + (1 - mbps / top) * (height - TOP - BOTTOM);
  const ticks = Array.from({ length: Math.round(top / step) + 1 }, (_, i) => i * step);
  const every = stepOf((to - from) / 6);
  const first = Math.ceil(from / every - 1e-9) * every;
  const times = Array.from(
    { length: Math.floor((to - first) / every + 1e-9) + 1 },
    (_, i) => first + i * every,
  );
  const words = "fill-secondary text-[11px]";
  return (
    <div ref={ref}>
      {out && (
        <div className="-mb-1 flex justify-end">
          <OutMenu
            caption={out.caption}
            drawn={() => {
              const svg = ref.current?.querySelector("svg[role=img]");
              return svg ? drawnElement(svg as SVGSVGElement) : null;
            }}
            rows={out.rows}
          />
        </div>
      )}
      <svg width={width} height={height} role="img" aria-label={label}>
        {ticks.map((at) => (
          <g key={at}>
            <path d={`M${LEFT} ${y(at)}H${width - RIGHT}`} className="stroke-line" />
            <text x={LEFT - 8} y={y(at) + 4} textAnchor="end" className={`figure ${words}`}>
              {rate(at)}
            </text>
          </g>
        ))}
        {times.map((time) => (
          <text
            key={time}
            x={x(time)}
            y={height - BOTTOM + 16}
            textAnchor="middle"
            className={`figure ${words}`}
          >
            {formatNumber(Number(time.toPrecision(6)))}
          </text>
        ))}
        <text x={width - RIGHT} y={height - 2} textAnchor="end" className={words}>
          seconds
        </text>
        <text x={LEFT - 8} y={11} textAnchor="end" className={words}>
          {unit}
        </text>
        {lines.map(({ points, dashed }, i) => (
          <path
            key={i}
            d={pathOf(points, x, y)}
            className="fill-none stroke-flow"
            strokeWidth={1.8}
            strokeDasharray={dashed ? "6 4" : undefined}
          />
        ))}
        {ceilings.map(({ name, mbps, dashed }) => (
          <g key={name}>
            <path
              d={`M${LEFT} ${y(mbps)}H${width - RIGHT}`}
              className="stroke-ink"
              strokeWidth={1.2}
              strokeDasharray={dashed ? "6 4" : undefined}
            />
            <text
              x={dashed ? LEFT + 6 : width - RIGHT - 6}
              y={y(mbps) > 22 ? y(mbps) - 5 : y(mbps) + 14}
              textAnchor={dashed ? "start" : "end"}
              className="fill-ink stroke-sheet text-[12px] [paint-order:stroke]"
              strokeWidth={4}
            >
              {name}, {rate(mbps)}
            </text>
          </g>
        ))}
      </svg>
    </div>
  );
}

const [LEFT, RIGHT, TOP, BOTTOM] = [60, 20, 22, 34];

function pathOf(
  points: LiveLine["points"],
  x: (seconds: number) => number,
  y: (mbps: number) => number,
): string {
  let pen = "M";
  return points
    .map((point) => {
      const command = point ? `${pen}${x(point[0]).toFixed(1)} ${y(point[1]).toFixed(1)}` : "";
      pen = point ? "L" : "M";
      return command;
    })
    .join("");
}

/** The next round number: 1, 2 or 5 times a power of ten. */
export function stepOf(least: number): number {
  const power = 10 ** Math.floor(Math.log10(Math.max(least, 1e-9)));
  return [1, 2, 5, 10].map((of) => of * power).find((step) => step >= least * 0.999)!;
}
