import { median } from "simple-statistics";
import { MB } from "../units/rate";
import type { Moment } from "./curve";

/** What a trace of one flow shows, rates in MB/s. */
export interface Levels {
  /** The best five seconds, or the whole where it is shorter. */
  burst: number;
  /** The mean after the last lasting change of level; of the whole where there is none. */
  sustained: number;
  /** Bytes moved before the first lasting drop; null where there is none. */
  edgeBytes: number | null;
}

const BURST_SECONDS = 5;
/** Moments a trace is cut into; a level lasts at least a twentieth of them. */
const BINS = 400;
const LASTING = 20;
/** A change counts from a quarter on. */
const CHANGE = 0.75;
/** How far beyond its noise a change has to stand out, in standard errors. */
const CLEAR = 6;

/**
 * Reads burst, sustained rate and cache edge off a trace: the places where the level changes, found by
 * cutting in two where the halves' medians lie furthest apart, again and again.
 *
 * @param moments in order of time
 */
export function levelsOf(moments: readonly Moment[]): Levels {
  const end = moments.at(-1)?.ms ?? 0;
  if (end <= 0) return { burst: 0, sustained: 0, edgeBytes: null };
  const bins = Math.max(1, Math.min(BINS, moments.length));
  const at = cumulative(moments);
  const bytesAt = Array.from({ length: bins + 1 }, (_, i) => at((i * end) / bins));
  const rates = bytesAt.slice(1).map((bytes, i) => (bytes - bytesAt[i]!) / MB / (end / bins / 1e3));
  const cuts = bins >= 2 * Math.ceil(bins / LASTING) ? cutsOf(rates) : [];
  const edges = [0, ...cuts, bins];
  const level = (i: number) => median(rates.slice(edges[i]!, edges[i + 1]!));
  const drop = cuts.findIndex((_, i) => level(i + 1) <= level(i) * CHANGE);
  const last = edges.at(-2)!;
  return {
    burst: bestWindow(at, end, Math.min(end, BURST_SECONDS * 1e3)),
    sustained: (bytesAt[bins]! - bytesAt[last]!) / MB / (((bins - last) * end) / bins / 1e3),
    edgeBytes: drop < 0 ? null : bytesAt[cuts[drop]!]!,
  };
}

/** Bytes moved up to any time, as if each moment's bytes were spread evenly over it. */
function cumulative(moments: readonly Moment[]): (ms: number) => number {
  const times = [0];
  const sums = [0];
  for (const { ms, bytes } of moments) {
    times.push(ms);
    sums.push(sums.at(-1)! + bytes);
  }
  return (ms) => {
    let [low, high] = [0, times.length - 1];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (times[middle]! <= ms) low = middle;
      else high = middle;
    }
    const width = times[high]! - times[low]!;
    const share = width > 0 ? Math.min(1, (ms - times[low]!) / width) : 1;
    return sums[low]! + share * (sums[high]! - sums[low]!);
  };
}

function bestWindow(at: (ms: number) => number, end: number, width: number): number {
  let best = 0;
  const step = Math.max(1, (end - width) / 2000);
  for (let from = 0; from <= end - width + 1e-9; from += step) {
    best = Math.max(best, at(from + width) - at(from));
  }
  return best / MB / (width / 1e3);
}

/** Where the level changes, as places between rates, in order. */
function cutsOf(rates: readonly number[]): number[] {
  const least = Math.max(2, Math.ceil(rates.length / LASTING));
  const cuts: number[] = [];
  const split = (from: number, to: number) => {
    const cut = bestCut(rates, from, to, least);
    if (cut === null) return;
    split(from, cut);
    cuts.push(cut);
    split(cut, to);
  };
  split(0, rates.length);
  return cuts;
}

/** The place where two levels part best, if they part clearly. */
function bestCut(rates: readonly number[], from: number, to: number, least: number): number | null {
  if (to - from < 2 * least) return null;
  const all = rates.slice(from, to);
  const sums = [0];
  for (const rate of all) sums.push(sums.at(-1)! + rate);
  const total = sums.at(-1)!;
  let [best, place] = [-1, -1];
  for (let i = least; i <= all.length - least; i++) {
    const [left, right] = [sums[i]! / i, (total - sums[i]!) / (all.length - i)];
    // The sum of squares that two means explain beyond one.
    const gain = ((left - right) ** 2 * i * (all.length - i)) / all.length;
    if (gain > best) [best, place] = [gain, i];
  }
  const [left, right] = [all.slice(0, place), all.slice(place)];
  const [high, low] = [
    Math.max(median(left), median(right)),
    Math.min(median(left), median(right)),
  ];
  if (low > high * CHANGE) return null;
  const noise = Math.sqrt(spreadOf(left) ** 2 / left.length + spreadOf(right) ** 2 / right.length);
  return high - low > CLEAR * noise ? from + place : null;
}

/** Spread that single dips do not blow up: 1.4826 times the median distance from the median. */
function spreadOf(values: readonly number[]): number {
  const centre = median([...values]);
  return 1.4826 * median(values.map((value) => Math.abs(value - centre)));
}
