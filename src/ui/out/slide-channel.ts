import {
  bankLine,
  channelArea,
  evenEdges,
  halfWidth,
  markIn,
  round,
  widthsOf,
  type ChannelStage,
} from "../narrows/geometry";
import type { Colours } from "./slide-colours";

/** A rig's channel on a slide: what each stage can carry, and which of them holds the flow. */
export interface SlideChannel {
  stages: readonly (ChannelStage & { label: string; marked: boolean })[];
  /** The rate that fills the height, MB/s. */
  widest: number;
  /** MB/s; null where nothing was measured, or it cannot be true. */
  flow: number | null;
}

/**
 * A channel as SVG, in a place of the slide: the width of each stage, the width that was lost, the flow, and
 * the stage that holds it.
 */
export function channelIn(
  { stages, widest, flow }: SlideChannel,
  { paper, ink, secondary, line, flow: water, bottleneck }: Colours,
  { left, top, width, height }: { left: number; top: number; width: number; height: number },
): string {
  const edges = evenEdges(stages.length, width);
  const row = { stages: [...stages] };
  const middle = height / 2;
  const room = height - 8;
  const { ran, own } = widthsOf(row, widest, room);
  const half = flow === null ? 0 : Math.max(1.5, halfWidth(flow, widest, room));
  const banks = ([-1, 1] as const).map((side) => bankLine(ran, side, edges, middle));
  const marks = stages.flatMap(({ marked }, i) =>
    marked
      ? ([-1, 1] as const).map((side) => {
          const { from, length } = markIn(edges, i);
          return `M${from} ${round(middle + side * (ran[i]! + 5))} h${length}`;
        })
      : [],
  );
  return (
    `<g transform="translate(${round(left)} ${round(top)})">` +
    `<rect width="${round(width)}" height="${round(height)}" fill="${line}" fill-opacity="0.45"/>` +
    `<path d="${channelArea(own, edges, middle)}" fill="${secondary}" fill-opacity="0.25"/>` +
    `<path d="${channelArea(ran, edges, middle)}" fill="${paper}"/>` +
    (half > 0
      ? `<rect y="${round(middle - half)}" width="${round(width)}" height="${round(2 * half)}" fill="${water}"/>`
      : "") +
    banks.map((d) => `<path d="${d}" fill="none" stroke="${ink}" stroke-width="2.5"/>`).join("") +
    marks
      .map((d) => `<path d="${d}" fill="none" stroke="${bottleneck}" stroke-width="8"/>`)
      .join("") +
    "</g>"
  );
}

/** The stage that holds the flow, as it is named under a rig; null where none is marked. */
export const heldAt = ({ stages }: SlideChannel): string | null =>
  stages.find(({ marked }) => marked)?.label ?? null;
