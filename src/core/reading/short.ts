import { type Change, lastingMs, STALLED } from "./changes";
import { endOf, gapsOf, meanBetween, medianRate, rateAt, startOf, type Flow } from "./flow";
import { medianOf } from "./noise";

/** Something that was over soon. */
export interface Brief {
  kind: "stall" | "dip" | "gap";
  ms: number;
  until: number;
  /** What was left of the rate; null for a gap, of which nothing is known. */
  leaves: number | null;
}

/** A request of 8 MiB takes half a second at 16 MB/s: what is shorter is no stall. */
const LEAST_STALL_MS = 1000;
/** And leaves less than this of the level's rate: a flow that comes in bursts stands still in between. */
const STALL = 0.15;
/** A dip leaves less than this of its level, and lies so many spreads below it. */
const DIP = 0.75;
const CLEAR = 5;
const NORMAL = 1.4826;

/** Stalls, dips and gaps of a trace, in order of time. @param changes of its level, in order */
export function briefsOf(flow: Flow, changes: readonly Change[]): Brief[] {
  const edges = [startOf(flow), ...changes.map(({ ms }) => ms), endOf(flow)];
  const found: Brief[] = gapsOf(flow).map(({ from, to }) => ({
    kind: "gap",
    ms: from,
    until: to,
    leaves: null,
  }));
  const least = Math.max(LEAST_STALL_MS, 2 * flow.usualMs);
  const longest = 2 * lastingMs(flow);
  let i = 0;
  for (let level = 1; level < edges.length; level++) {
    const first = i;
    while (i < flow.to.length && flow.from[i]! < edges[level]! - 1e-6) i += 1;
    const usual = medianRate(flow, first, i, (rate) => rate > 0);
    const mean = meanBetween(flow, edges[level - 1]!, edges[level]!);
    if (!(usual > 0)) {
      const all = { ms: edges[level - 1]!, until: edges[level]!, leaves: 0 };
      if (i > first && all.until - all.ms >= least) found.push({ kind: "stall", ...all });
      continue;
    }
    const spread = NORMAL * medianOf(distances(flow, first, i, usual));
    const limit = Math.max(Math.min(DIP * usual, usual - CLEAR * spread), STALLED * usual);
    for (let k = first; k < i; k++) {
      if (rateAt(flow, k) >= limit) continue;
      let [end, still] = [k, 0];
      // One sample that is as it should be does not end a dip of many.
      for (; end < i; end++) {
        if (rateAt(flow, end) >= limit && !(end + 1 < i && rateAt(flow, end + 1) < limit)) break;
        if (rateAt(flow, end) < STALLED * usual) still += 1;
      }
      const [ms, until] = [flow.from[k]!, flow.to[end - 1]!];
      const bytes = flow.sum[end]! - flow.sum[k]!;
      const leaves = bytes / 1e3 / (until - ms) / usual;
      const left = bytes / 1e3 / (until - ms) / mean;
      // Most of a stall stands still, and it leaves next to nothing of the flow.
      if (until - ms >= least && still > 0.8 * (end - k) && left < STALL)
        found.push({ kind: "stall", ms, until, leaves });
      // Of a flow that comes in bursts the median of its samples is not its rate.
      else if (end - k >= 2 && until - ms < longest && Math.max(leaves, left) < DIP)
        found.push({ kind: "dip", ms, until, leaves });
      k = end;
    }
  }
  return found.sort((a, b) => a.ms - b.ms);
}

/** How far some of the samples lie from a level. */
function distances(flow: Flow, first: number, end: number, level: number): Float64Array {
  const step = Math.max(1, Math.floor((end - first) / 20_000));
  return Float64Array.from({ length: Math.ceil((end - first) / step) }, (_, k) =>
    Math.abs(rateAt(flow, Math.min(first + k * step, end - 1)) - level),
  );
}

/** Dips that come again and again. */
export interface Period {
  seconds: number;
  count: number;
  ms: number;
  until: number;
  /** How long each lasts in the middle, milliseconds, and what it leaves of the rate. */
  long: number;
  leaves: number;
}

/** Least number of times that make a period, and how evenly they come. */
const TIMES = 4;
const EVEN = 0.35;

/** The period of dips that come evenly; null where they come as they like. */
export function periodOf(dips: readonly Brief[]): Period | null {
  if (dips.length < TIMES) return null;
  const apart = dips.slice(1).map(({ ms }, i) => ms - dips[i]!.ms);
  const usual = medianOf(Float64Array.from(apart));
  const even = apart.filter((each) => Math.abs(each / usual - 1) < EVEN).length;
  // One that was missed makes two periods of one.
  const twice = apart.filter((each) => Math.abs(each / usual / 2 - 1) < EVEN / 2).length;
  if (even < TIMES - 1 || even + twice < 0.75 * apart.length) return null;
  const of = (pick: (dip: Brief) => number) => medianOf(Float64Array.from(dips, pick));
  return {
    seconds: usual / 1e3,
    count: dips.length,
    ms: dips[0]!.ms,
    until: dips.at(-1)!.until,
    long: of(({ ms, until }) => until - ms),
    leaves: of(({ leaves }) => leaves ?? 1),
  };
}
