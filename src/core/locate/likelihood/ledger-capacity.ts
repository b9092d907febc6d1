import type { Rig } from "../../chain/rig";
import type { Stage } from "../../chain/stage";
import { stagesOf } from "../../chain/stages";
import { allLinks, usualTransport, type Link } from "../../chain/link";
import { kindOf, type Drill } from "../../drills/drill";
import { shapeOf } from "../../drills/shape";
import type { Direction } from "../../units/rate";
import type { Grid } from "./grid";
import { APART, bandOn, foreseenOn } from "./band";
import { requestsOf, VAGUE, type Requests, type Shown } from "../observations/requests";
import type { At } from "../hypotheses/site";

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
  /** The requests on whose own time that rests, which is known to a factor of two; null for none. */
  requests: Requests | null;
  /** Whether it is what a drive sustains, past what its cache takes. */
  fills: boolean;
}

/** A copy of files spends some of its time between them. */
const COPY_SHARE = 0.6;

/**
 * The ledger's capacity of a rig for a drill.
 *
 * @param shown what other rigs show to be reached of what is foreseen
 * @returns null where a link does not come up
 */
export function ledgerCapacity(
  rig: Rig,
  drill: Drill,
  direction: Direction,
  grid: Grid,
  shown: Shown = () => 0,
): LedgerCapacity | null {
  const found = limitsOf(rig, drill, direction, shown);
  if (!found) return null;
  const { limits, ceiling, requests } = found;
  const fills = direction === "write" && kindOf(drill).shows.includes("sustained");
  return { ...lowestOf(limits, grid), ...boundsOf(limits), ceiling, requests, fills };
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
  shown: Shown = () => 0,
): { limits: Limit[]; ceiling: number; requests: Requests | null } | null {
  const stages = stagesOf(rig, direction);
  if (stages.length === 0 || stages.some(({ ceiling }) => ceiling <= 0)) return null;
  const requests = requestsOf(rig, direction, drill);
  const limits = requests
    ? byRequests(rig, stages, { ...requests, shown: shown(requests) }, { direction, drill })
    : byStage(rig, stages, shapeOf(drill) ? 1 : COPY_SHARE);
  const ceiling = Math.min(...stages.map((stage) => stage.ceiling));
  return { limits, ceiling, requests };
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
  return isDrivenOtherwise(rig, cause.link)
    ? { condition: "transport" }
    : { ledger: cause.link.lower.id };
}

/** Whether a link runs another of its protocols than it does by itself. */
function isDrivenOtherwise({ transport }: Rig, link: Link): boolean {
  const usual = usualTransport(link);
  const offered = link.mode?.transports.some(({ id }) => id === transport);
  return !!transport && !!usual && transport !== usual && !!offered;
}

/** A driver's mode that takes so much is what holds requests back, and not their way. */
const COSTS = 1.5;

function byRequests(
  rig: Rig,
  stages: readonly Stage[],
  { mbps, byLinks, shown }: Requests & { shown: number },
  { direction, drill }: { direction: Direction; drill: Drill },
): Limit[] {
  const usual = allLinks(rig).some((link) => isDrivenOtherwise(rig, link))
    ? requestsOf({ ...rig, transport: null }, direction, drill)
    : null;
  const at: At =
    usual && usual.mbps > COSTS * mbps
      ? { condition: "transport" }
      : { ledger: rig.parts.at(-1)!.id };
  const links = byLinks ? byStage(rig, stages, 1) : [];
  // What lies in the band of the links is theirs.
  const { least } = boundsOf(links);
  const low = mbps * Math.max(Math.exp(-VAGUE), shown * Math.exp(-APART));
  const band = { low, high: mbps };
  const own = (grid: Grid) => cutAt(foreseenOn(grid, mbps, VAGUE, VAGUE, shown), least, grid);
  return [...links, { at, key: "requests", stage: null, band, own }];
}

/** A distribution as far as it lies below a rate; the rest of it is no limit. */
function cutAt(density: Float64Array, most: number, { rates }: Grid): Float64Array {
  if (most === Infinity) return density;
  const cut = density.map((value, i) => (rates[i]! < most ? value : 0));
  cut[cut.length - 1] = 1 - cut.reduce((sum, value) => sum + value, 0);
  return cut;
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
