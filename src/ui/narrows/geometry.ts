import { alignParts } from "@/core/chain/difference";
import type { Part } from "@/core/chain/part";
import type { Rig } from "@/core/chain/rig";
import type { Stage, StageRole } from "@/core/chain/stage";
import { stagesOf } from "@/core/chain/stages";
import { machineStage, type MachineShown } from "@/core/machine/machine-stage";
import type { Marks } from "@/core/locate/findings/finding";
import type { Direction } from "@/core/units/rate";

/** A column of the drawing: the same place in every rig. */
export interface Column {
  role: StageRole;
  /** Whether it belongs to the other end of a copy. */
  other: boolean;
  /** Whether the rigs have different parts here. */
  differs: boolean;
}

/** What a channel is drawn from: what one stage can carry, MB/s. */
export type ChannelStage = Pick<Stage, "key" | "ceiling" | "own" | "held">;

/** One rig in the drawing: a stage for each column, null where it has none. */
export interface ChannelRow<S extends ChannelStage = Stage> {
  stages: (S | null)[];
  marks: Marks;
}

/** Several rigs lined up so that the same part stands in the same column. */
export interface Lineup {
  columns: Column[];
  rows: ChannelRow[];
  /** The largest rate in sight, MB/s, which fills the height. */
  widest: number;
}

/** A rig to be drawn: what of it is marked, the flow to make room for, MB/s, and what its host was shown to carry. */
export interface DrawnRig {
  rig: Rig;
  marks: Marks;
  flow: number | null;
  machine: MachineShown | null;
}

const ORDER: StageRole[] = [
  "host port",
  "cable",
  "hub",
  "adapter",
  "bridge",
  "network side",
  "slot",
  "disk side",
  "drive",
];

/** Lines rigs up, part by part; their hosts come first, where something is known of one. */
export function lineUp(drawn: readonly DrawnRig[], direction: Direction): Lineup {
  const rigs = drawn.map(({ rig }) => rig);
  const flows = drawn.flatMap(({ flow }) => flow ?? []);
  const all = rigs.map((rig) => stagesOf(rig, direction));
  const columns: Column[] = [];
  const cells: (Stage | null)[][] = [];
  const lay = (aligned: (Part | null)[], other: boolean) => {
    const here = aligned.map((part, row) =>
      part
        ? all[row]!.filter(
            (stage) => stage.part.id === part.id && isOther(rigs[row]!, stage) === other,
          )
        : [],
    );
    const differs = new Set(aligned.map((part) => part?.id)).size > 1;
    const roles = ORDER.filter((role) => here.some((found) => found.some((s) => s.role === role)));
    // Towards the host the order along the flow is the other way round.
    for (const role of other ? roles.toReversed() : roles) {
      columns.push({ role, other, differs });
      cells.push(here.map((found) => found.find((stage) => stage.role === role) ?? null));
    }
  };
  alignParts(rigs.map((rig) => rig.other.toReversed())).forEach((aligned) => lay(aligned, true));
  const machines = drawn.map(({ machine }) => machine && machineStage(machine, direction));
  if (machines.some((stage) => stage !== null)) {
    const differs = new Set(machines.map((stage) => stage?.key)).size > 1;
    columns.push({ role: "host", other: false, differs });
    cells.push(machines);
  }
  alignParts(rigs.map((rig) => rig.parts)).forEach((aligned) => lay(aligned, false));
  // A host that carries more than everything else is as wide as there is room.
  const ceilings = all.flat().map(({ own, ceiling }) => Math.max(own, ceiling));
  return {
    columns,
    rows: drawn.map(({ marks }, row) => ({
      stages: cells.map((column) => column[row] ?? null),
      marks,
    })),
    widest: Math.max(1, ...ceilings, ...flows),
  };
}

/** Whether a stage stands before the host in the flow of a copy. */
const isOther = (rig: Rig, stage: Stage) => stage.place < rig.other.length;

/** Rates span three orders of magnitude; this power keeps the small visible and differences felt. */
const POWER = 0.42;

/** Half the width of a channel. @param height pixels that the widest rate takes */
export function halfWidth(mbps: number, widest: number, height: number): number {
  return (height / 2) * Math.min(1, Math.max(0, mbps) / widest) ** POWER;
}

/** Half widths at the columns of a row; where there is no stage the last one before it goes on. */
export function halfWidths<S extends ChannelStage>(
  row: Pick<ChannelRow<S>, "stages">,
  rate: (stage: S) => number,
  widest: number,
  height: number,
): number[] {
  const first = row.stages.find((stage) => stage !== null);
  let last = first ? halfWidth(rate(first), widest, height) : 0;
  return row.stages.map((stage) => {
    if (stage) last = halfWidth(rate(stage), widest, height);
    return last;
  });
}

/** Half widths of what each stage carries, would carry if others used nothing, and could carry by itself. */
export const widthsOf = <S extends ChannelStage>(
  row: Pick<ChannelRow<S>, "stages">,
  widest: number,
  height: number,
) => {
  const of = (rate: (stage: S) => number) => halfWidths(row, rate, widest, height);
  return {
    ran: of((stage) => stage.ceiling),
    free: of((stage) => stage.ceiling + stage.held),
    own: of((stage) => Math.max(stage.own, stage.ceiling + stage.held)),
  };
};

/** Where the mark of a stage begins, and how long it is: not quite from edge to edge of its column. */
export function markIn(edges: readonly number[], i: number): { from: number; length: number } {
  const width = edges[i + 1]! - edges[i]!;
  return { from: round(edges[i]! + 0.12 * width), length: round(0.76 * width) };
}

/** The edges of columns of one width: 0, and where each column ends, pixels. */
export const evenEdges = (columns: number, width: number): number[] =>
  Array.from({ length: columns + 1 }, (_, i) => (width * i) / columns);

/** The edges of columns as wide as their share of all weights. */
export function weightedEdges(weights: readonly number[], width: number): number[] {
  const all = weights.reduce((sum, weight) => sum + weight, 0);
  let before = 0;
  return [0, ...weights.map((weight) => (width * (before += weight)) / all)];
}

/** How far to each side of an edge the bank bends: a part of the narrower column beside it. */
function bendAt(edges: readonly number[], i: number): number {
  const beside = Math.min(edges[i]! - edges[i - 1]!, edges[i + 1]! - edges[i]!);
  return Math.min(beside * 0.16, 18);
}

/**
 * A channel's upper or lower bank as an SVG path: level along each column, an S-curve between two.
 *
 * @param side -1 for the upper bank, 1 for the lower
 * @param edges where the columns begin and end, one more than there are halves
 * @param middle y of the channel's axis
 */
export function bankLine(
  halves: readonly number[],
  side: -1 | 1,
  edges: readonly number[],
  middle: number,
): string {
  const y = halves.map((half) => round(middle + side * half));
  let path = `M0 ${y[0]}`;
  for (let i = 1; i < y.length; i++) {
    const bend = bendAt(edges, i);
    const edge = round(edges[i]!);
    path += ` H${round(edge - bend)} C${edge} ${y[i - 1]} ${edge} ${y[i]} ${round(edge + bend)} ${y[i]}`;
  }
  return `${path} H${round(edges.at(-1)!)}`;
}

/** The area between a channel's banks as a closed SVG path. */
export function channelArea(
  halves: readonly number[],
  edges: readonly number[],
  middle: number,
): string {
  const y = halves.map((half) => round(middle + half));
  let back = `V${y.at(-1)}`;
  for (let i = y.length - 1; i > 0; i--) {
    const bend = bendAt(edges, i);
    const edge = round(edges[i]!);
    back += ` H${round(edge + bend)} C${edge} ${y[i]} ${edge} ${y[i - 1]} ${round(edge - bend)} ${y[i - 1]}`;
  }
  return `${bankLine(halves, -1, edges, middle)} ${back} H0 Z`;
}

/** Two decimals: enough for any screen, and the same in server and browser. */
export const round = (value: number) => Math.round(value * 100) / 100;
