import { useId } from "react";
import type { Direction } from "@/core/units/rate";
import {
  bankLine,
  channelArea,
  evenEdges,
  halfWidth,
  markIn,
  round,
  widthsOf,
  type ChannelRow,
  type ChannelStage,
} from "./geometry";

/**
 * One rig drawn as a channel: hatched banks, the width each stage can carry, the width its link
 * lost, and the flow that was measured.
 */
export function Channel({
  row,
  flow,
  direction,
  widest,
  width,
  height,
  edges = evenEdges(row.stages.length, width),
  label,
}: {
  row: ChannelRow<ChannelStage>;
  /** Measured MB/s; null draws the empty channel. */
  flow: number | null;
  direction: Direction;
  widest: number;
  width: number;
  height: number;
  /** Where its columns begin and end, pixels; of one width where that is left out. */
  edges?: readonly number[];
  /** What the picture says, for those who cannot see it. */
  label: string;
}) {
  const id = useId();
  const margin = 5;
  const middle = height / 2;
  const room = height - 2 * margin;
  const { ran, free, own } = widthsOf(row, widest, room);
  const shared = row.stages.some((stage) => stage !== null && stage.held > 0);
  const water = flow === null ? 0 : Math.max(0.75, halfWidth(flow, widest, room));
  const banks = (halves: number[]) =>
    ([-1, 1] as const).map((side) => bankLine(halves, side, edges, middle));
  const clip = `${id}-clip`;

  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={label}
      className="block"
    >
      <defs>
        <pattern id={`${id}-bank`} width="8" height="8" patternUnits="userSpaceOnUse">
          <path d="M-2 10 L10 -2 M-2 2 L2 -2 M6 10 L10 6" stroke="var(--hatch)" strokeWidth="1" />
        </pattern>
        <pattern id={`${id}-write`} width="6" height="6" patternUnits="userSpaceOnUse">
          <path d="M-1.5 4.5 L4.5 -1.5 M1.5 7.5 L7.5 1.5" stroke="var(--flow)" strokeWidth="2.2" />
        </pattern>
        <clipPath id={clip}>
          <rect width={width} height={height} />
        </clipPath>
      </defs>
      <g clipPath={`url(#${clip})`}>
        <rect width={width} height={height} fill="var(--bank)" />
        <rect width={width} height={height} fill={`url(#${id}-bank)`} />
        <path d={channelArea(own, edges, middle)} fill="var(--shoal)" />
        {shared && (
          <path d={channelArea(free, edges, middle)} fill="var(--secondary)" opacity={0.4} />
        )}
        <path d={channelArea(ran, edges, middle)} fill="var(--sheet)" />
        {banks(own).map((d) => (
          <path
            key={d}
            d={d}
            fill="none"
            stroke="var(--secondary)"
            strokeWidth="1.25"
            strokeDasharray="1.5 3.5"
          />
        ))}
        {flow !== null && (
          <rect
            y={round(middle - water)}
            width={width}
            height={round(2 * water)}
            fill={direction === "read" ? "var(--flow)" : `url(#${id}-write)`}
            stroke={direction === "read" ? "none" : "var(--flow)"}
            opacity={0.92}
          />
        )}
        {banks(ran).map((d) => (
          <path key={d} d={d} fill="none" stroke="var(--ink)" strokeWidth="1.25" />
        ))}
        {row.stages.map((stage, i) =>
          stage && row.marks.likelyKeys.includes(stage.key)
            ? ([-1, 1] as const).map((side) => (
                <path
                  key={`likely${i}${side}`}
                  d={markLine(edges, i, middle + side * (ran[i]! + 3))}
                  stroke="var(--ink)"
                  strokeWidth="2.5"
                  strokeDasharray="2 3"
                  data-mark="likely"
                />
              ))
            : null,
        )}
        {row.stages.map((stage, i) =>
          stage && row.marks.stageKeys.includes(stage.key)
            ? ([-1, 1] as const).map((side) => (
                <path
                  key={`${i}${side}`}
                  d={markLine(edges, i, middle + side * (ran[i]! + 3))}
                  stroke="var(--bottleneck)"
                  strokeWidth="3.5"
                  strokeDasharray={row.marks.predicted ? "7 4" : undefined}
                  data-mark={row.marks.predicted ? "predicted" : "found"}
                />
              ))
            : null,
        )}
      </g>
    </svg>
  );
}

/** The mark of a stage, at a height. */
function markLine(edges: readonly number[], i: number, y: number): string {
  const { from, length } = markIn(edges, i);
  return `M${from} ${round(y)} h${length}`;
}
