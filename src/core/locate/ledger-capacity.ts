import { predict } from "../chain/predict";
import type { Rig } from "../chain/rig";
import { stagesOf, type Stage } from "../chain/stage";
import { usualTransport } from "../chain/link";
import type { Drill } from "../drills/drill";
import { shapeOf } from "../drills/shape";
import type { Direction } from "../units/rate";
import type { Grid } from "./grid";
import { bandOn } from "./band";
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
  /** Whether that rests on times of requests, which are known to a factor of two or worse. */
  vague: boolean;
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
  const found = limitsOf(rig, drill, direction);
  if (!found) return null;
  const { limits, ceiling, vague } = found;
  return { ...lowestOf(limits, grid), ...boundsOf(limits), ceiling, vague };
}

/**
 * The most that the ledger lets through of good hardware, MB/s.
 *
 * @returns null where a link does not come up
 */
export function mostOf(rig: Rig, drill: Drill, direction: Direction): number | null {
  const found = limitsOf(rig, drill, direction);
  return found && boundsOf(found.limits).most;
}

interface Limit {
  at: At;
  key: string;
  stage: Stage | null;
  band: { low: number; high: number };
  /** Where it would lie by itself, by place. */
  own(grid: Grid): Float64Array;
}

function limitsOf(
  rig: Rig,
  drill: Drill,
  direction: Direction,
): { limits: Limit[]; ceiling: number; vague: boolean } | null {
  const stages = stagesOf(rig, direction);
  if (stages.length === 0 || stages.some(({ ceiling }) => ceiling <= 0)) return null;
  const shape = shapeOf(drill);
  // Of one request at a time the time that it takes counts in full, however large it is.
  const vague = shape !== null && (shape.block < LARGE || shape.depth === 1);
  const limits = vague
    ? byRequests(rig, direction, shape)
    : byStage(rig, stages, shape ? 1 : COPY_SHARE);
  const ceiling = Math.min(...stages.map((stage) => stage.ceiling));
  return limits && { limits, ceiling, vague };
}

const boundsOf = (limits: readonly Limit[]) => ({
  most: Math.min(...limits.map(({ band }) => band.high)),
  least: Math.min(...limits.map(({ band }) => band.low)),
});

function byStage(rig: Rig, stages: readonly Stage[], share: number): Limit[] {
  const found = new Map<string, Limit>();
  for (const stage of stages) {
    if (stage.cause.kind === "plug") continue;
    const { attainable, ceiling } = stage;
    const at = ledgerAt(rig, stage);
    const key = JSON.stringify(at);
    const known = found.get(key);
    if (known && known.band.high <= attainable.high) continue;
    const band = { low: attainable.low * share, high: attainable.high };
    found.set(key, { at, key, stage, band, own: (grid) => bandOn(grid, band, ceiling) });
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
): Limit[] | null {
  const found = predict(rig, direction, shape);
  if (!found) return null;
  const { mbps } = found;
  // A drive's own time that nobody knows can be many times that of the way to it.
  const spread = found.whole ? VAGUE : 3 * VAGUE;
  const own = ({ rates }: Grid) => {
    const values = Float64Array.from(rates, (rate) => {
      const off = Math.log(rate / mbps) / (rate > mbps ? VAGUE : spread);
      return Number.isFinite(off) ? Math.exp(-0.5 * off * off) : 0;
    });
    const total = values.reduce((sum, value) => sum + value, 0);
    return values.map((value) => value / total);
  };
  const drive = rig.parts.at(-1)!.id;
  const band = { low: mbps * Math.exp(-spread), high: mbps };
  return [{ at: { ledger: drive }, key: "requests", stage: null, band, own }];
}

/** The distribution of the lowest of several limits, and which of them that is. */
function lowestOf(
  limits: readonly Limit[],
  grid: Grid,
): Pick<LedgerCapacity, "density" | "reaches" | "by"> {
  const count = grid.rates.length;
  const owns = limits.map(({ own }) => own(grid));
  const reaching = owns.map((own) => {
    const reaches = new Float64Array(count);
    let sum = 0;
    for (let i = count - 1; i >= 0; i--) reaches[i] = sum += own[i]!;
    return reaches;
  });
  const density = new Float64Array(count);
  const reaches = new Float64Array(count).fill(1);
  for (let i = 0; i < count; i++) for (const one of reaching) reaches[i]! *= Math.min(1, one[i]!);
  const by = limits.map(({ at, key, stage }, which) => {
    const part = new Float64Array(count);
    for (let i = 0; i < count; i++) {
      let others = 1;
      reaching.forEach((one, j) => {
        // Of two at the same place the earlier one counts as the lower.
        if (j !== which) others *= Math.min(1, j < which ? (one[i + 1] ?? 0) : one[i]!);
      });
      part[i] = owns[which]![i]! * others;
      density[i]! += part[i]!;
    }
    return { at, key, stage, density: part };
  });
  return { density, reaches, by };
}
