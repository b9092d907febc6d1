import { predict } from "../chain/predict";
import type { Rig } from "../chain/rig";
import { stagesOf, type Stage } from "../chain/stage";
import { usualTransport } from "../chain/link";
import type { Drill } from "../drills/drill";
import { shapeOf } from "../drills/shape";
import type { Direction } from "../units/rate";
import type { Grid } from "./grid";
import { bandOn } from "./prior";
import type { At } from "./site";

/** What the ledger of a rig leaves of the flow: not one rate, but a band in which good hardware lies. */
export interface LedgerCapacity {
  /** Probability that the ledger lets so much through and no more, by place of the grid. */
  density: Float64Array;
  /** Probability that it lets at least so much through, by place. */
  reaches: Float64Array;
  /** By what it is that limits: its part of the density. */
  by: { at: At; key: string; stage: Stage | null; density: Float64Array }[];
  /** What nothing honest exceeds, MB/s. */
  ceiling: number;
  /** The most that good hardware attains, MB/s. */
  most: number;
  /** The least that good hardware attains, MB/s. */
  least: number;
}

/** Requests from this size on are large: their rate hardly depends on the time each takes. */
const LARGE = 128 * 1024;
/** Times per request are known to a factor of about two, as a difference of logarithms. */
const VAGUE = 0.45;
/** A copy of files spends some of its time between them. */
const COPY_SHARE = 0.6;

/**
 * The ledger's capacity of a rig for a drill.
 *
 * @returns null where a link does not come up
 */
export function ledgerCapacity(
  rig: Rig,
  drill: Drill,
  direction: Direction,
  grid: Grid,
): LedgerCapacity | null {
  const stages = stagesOf(rig, direction);
  if (stages.length === 0 || stages.some(({ ceiling }) => ceiling <= 0)) return null;
  const shape = shapeOf(drill);
  const limits =
    shape && shape.block < LARGE
      ? byRequests(rig, direction, shape, grid)
      : byStage(rig, stages, shape ? 1 : COPY_SHARE, grid);
  if (!limits) return null;
  return { ...lowestOf(limits, grid), ceiling: Math.min(...stages.map(({ ceiling }) => ceiling)) };
}

interface Limit {
  at: At;
  key: string;
  stage: Stage | null;
  /** Where it would lie by itself. */
  own: Float64Array;
  band: { low: number; high: number };
}

function byStage(rig: Rig, stages: readonly Stage[], share: number, grid: Grid): Limit[] {
  const found = new Map<string, Limit>();
  for (const stage of stages) {
    if (stage.cause.kind === "plug") continue;
    const { attainable, ceiling } = stage;
    const at = ledgerAt(rig, stage);
    const key = JSON.stringify(at);
    const known = found.get(key);
    if (known && known.band.high <= attainable.high) continue;
    const band = { low: attainable.low * share, high: attainable.high };
    const own = bandOn(grid, band, ceiling);
    found.set(key, { at, key, stage, own, band });
  }
  return [...found.values()];
}

/**
 * What the ledger puts a stage's ceiling down to: the link, by the part at its end towards the drive;
 * a part's own stated limit; or the driver's mode, where another would get more out of the link.
 */
function ledgerAt(rig: Rig, { cause, part }: Stage): At {
  if (cause.kind !== "link") return { ledger: part.id };
  const { link } = cause;
  const usual = usualTransport(link);
  if (
    rig.transport &&
    usual &&
    rig.transport !== usual &&
    link.mode?.transports.some(({ id }) => id === rig.transport)
  )
    return { condition: "transport" };
  return { ledger: link.lower.id };
}

function byRequests(
  rig: Rig,
  direction: Direction,
  shape: NonNullable<ReturnType<typeof shapeOf>>,
  grid: Grid,
): Limit[] | null {
  const found = predict(rig, direction, shape);
  if (!found) return null;
  // A drive's own time that nobody knows can be many times that of the way to it.
  const [mean, spread] = [Math.log(found.mbps), found.whole ? VAGUE : 3 * VAGUE];
  const own = Float64Array.from(grid.rates, (rate) => {
    const off = (Math.log(rate) - mean) / (rate > found.mbps ? VAGUE : spread);
    return Number.isFinite(off) ? Math.exp(-0.5 * off * off) : 0;
  });
  const total = own.reduce((sum, value) => sum + value, 0);
  own.forEach((value, i) => (own[i] = value / total));
  const drive = rig.parts.at(-1)!.id;
  const band = { low: found.mbps * Math.exp(-spread), high: found.mbps };
  return [{ at: { ledger: drive }, key: "requests", stage: null, own, band }];
}

/** The distribution of the lowest of several limits, and which of them that is. */
function lowestOf(limits: readonly Limit[], { rates }: Grid): Omit<LedgerCapacity, "ceiling"> {
  const count = rates.length;
  const reaching = limits.map(({ own }) => {
    const reaches = new Float64Array(count);
    let sum = 0;
    for (let i = count - 1; i >= 0; i--) reaches[i] = sum += own[i]!;
    return reaches;
  });
  const density = new Float64Array(count);
  const reaches = new Float64Array(count).fill(1);
  for (let i = 0; i < count; i++) for (const one of reaching) reaches[i]! *= Math.min(1, one[i]!);
  const by = limits.map(({ at, key, stage, own }, which) => {
    const part = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      let others = 1;
      reaching.forEach((one, j) => {
        // Of two at the same place the earlier one counts as the lower.
        if (j !== which) others *= Math.min(1, j < which ? (one[i + 1] ?? 0) : one[i]!);
      });
      part[i] = own[i]! * others;
      density[i]! += part[i]!;
    }
    return { at, key, stage, density: part };
  });
  return {
    density,
    reaches,
    by,
    most: Math.min(...limits.map(({ band }) => band.high)),
    least: Math.min(...limits.map(({ band }) => band.low)),
  };
}
