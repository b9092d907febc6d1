import { rateClaims } from "../chain/claim";
import { claimsIn } from "../chain/over";
import type { Rig } from "../chain/rig";
import { shapeOf } from "../drills/shape";
import { drillKey, type Drill } from "../drills/drill";
import { bottleneckOf, type Bottleneck } from "../chain/bottleneck";
import { compareRepeats } from "../stats/compare";
import type { Repeats } from "../stats/repeats";
import type { Observation } from "../study/measurement";
import { median } from "simple-statistics";
import type { Direction } from "../units/rate";

/** What was seen of one rig in one drill and direction, held against what is asked for. */
export interface Cell {
  rigId: string;
  key: string;
  direction: Direction;
  repeats: Repeats;
  iops: number;
  p50Us: number | null;
  p99Us: number | null;
  /** The lowest ceiling of its ledger, MB/s; null where a link does not come up. */
  ceiling: number | null;
  efficiency: number | null;
  /** What a part of it claims, MB/s, and that part's name. */
  claim: { mbps: number; part: string } | null;
  /** Share of the baseline's rate; null without one. */
  retention: number | null;
  /** How it stands to the baseline: beyond the noise above or below it, the same, or not to be told. */
  mark: "above" | "below" | "same" | "unknown" | null;
  origin: Observation["origin"];
  doubtful: boolean;
  /** How hot the drive became in any of its runs, °C; null where nothing told. */
  hottest: number | null;
  cautions: string[];
  measurementIds: string[];
  /** What the first step kept up, MB/s; and where its cache gave out, bytes. */
  sustained: number | null;
  burst: number | null;
  edgeBytes: number | null;
}

const ceilings = new WeakMap<Rig, Map<Direction, Bottleneck | null>>();

/** The bottleneck of a rig, worked out once. */
export function knownBottleneck(rig: Rig, direction: Direction): Bottleneck | null {
  let known = ceilings.get(rig);
  if (!known) ceilings.set(rig, (known = new Map()));
  if (!known.has(direction)) known.set(direction, bottleneckOf(rig, direction));
  return known.get(direction)!;
}

/** A cell by itself, worked out once for what was seen. */
export function cellOf(seen: Observation, rig: Rig): Cell {
  let known = cells.get(seen);
  if (known?.rigId !== rig.id) cells.set(seen, (known = makeCell(seen, rig)));
  return known;
}

const cells = new WeakMap<Observation, Cell>();

function makeCell(seen: Observation, rig: Rig): Cell {
  const direction = seen.drill.direction as Direction;
  const ceiling = knownBottleneck(rig, direction)?.ceiling ?? null;
  const { results, repeats } = seen;
  const middle = (pick: (result: (typeof results)[number]) => number | null | undefined) => {
    const values = results.flatMap((result) => pick(result) ?? []);
    return values.length > 0 ? median(values) : null;
  };
  const latency = middle(({ latencyUs }) => latencyUs.p50 || null);
  return {
    rigId: rig.id,
    key: drillKey(seen.drill),
    direction,
    repeats,
    ceiling,
    iops: middle(({ iops }) => iops) ?? 0,
    p50Us: latency,
    p99Us: middle(({ latencyUs }) => latencyUs.p99 || null),
    efficiency: ceiling ? repeats.median / ceiling : null,
    claim: claimOf(rig, seen.drill, direction),
    retention: null,
    mark: null,
    origin: seen.origin,
    doubtful: seen.doubtful,
    hottest: hottestOf(results),
    cautions: seen.cautions,
    measurementIds: seen.measurementIds,
    sustained: middle(({ first }) => first?.sustainedMBps),
    burst: middle(({ first }) => first?.burstMBps),
    edgeBytes: middle(({ first }) => first?.edgeBytes),
  };
}

function hottestOf(results: Observation["results"]): number | null {
  const known = results.flatMap(({ hottestCelsius }) => hottestCelsius ?? []);
  return known.length > 0 ? Math.max(...known) : null;
}

/** What the enclosure of a rig claims at most, of such requests over such a link; without one, its drive. */
function claimOf(rig: Rig, drill: Drill, direction: Direction): Cell["claim"] {
  const shape = shapeOf(drill);
  const of = (part: Rig["parts"][number]) =>
    rateClaims(claimsIn(part, rig), direction)
      .filter(({ block }) => block === undefined || block === shape?.block)
      .filter(({ depth }) => depth === undefined || depth === shape?.depth)
      .map(({ mbps }) => ({ mbps, part: part.name }));
  const boxes = rig.parts.filter(({ kind }) => kind === "enclosure").flatMap(of);
  const found = boxes.length > 0 ? boxes : rig.parts.slice(-1).flatMap(of);
  return found.toSorted((a, b) => b.mbps - a.mbps)[0] ?? null;
}

/** A cell beside the baseline's. */
export function besideBaseline(cell: Cell, base: Cell | null, smallestEffect: number): Cell {
  if (!base || base.rigId === cell.rigId) return cell;
  const { kind, change } = compareRepeats(base.repeats, cell.repeats, smallestEffect);
  const mark = kind === "difference" ? (change > 0 ? "above" : "below") : kind;
  return { ...cell, retention: cell.repeats.median / base.repeats.median, mark };
}
