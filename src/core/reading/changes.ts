import { bytesUntil, endOf, gapsOf, sampleAt, startOf, type Flow } from "./flow";
import { medianOf, noiseOf, runningMedian } from "./noise";
import { cutsOf } from "./segment";
import { stepOrDrift } from "./step-or-drift";

/** A lasting change of level. */
export interface Change {
  ms: number;
  /** Levels before and after, MB/s. */
  before: number;
  after: number;
  /** Whether it happened over a while rather than at once. */
  gradual: boolean;
}

/** Places of a grid laid over a trace: finer than most changes that matter, coarse enough to be quick. */
const PLACES = 2048;
/** A burst at the very beginning of a long trace may be shorter than a place: there it is looked at anew. */
const EARLY = 1 / 32;
const FEW = 64;
/** Below this share of the usual rate nothing moves: a stall, which is no level to compare with. */
export const STALLED = 0.02;
/** Changes by less are no change of level. */
const SMALLEST = 0.1;
/** How many standard errors a change has to stand out by. */
const CLEAR = 3.5;
/** What a cut costs, in variances and by the logarithm of the number of places. */
const PRICE = 2.5;
/** Restlessness of a trace that shows none: a thousandth. */
const LEAST_NOISE = 1e-3;

/** An excursion that comes back to where it was is no level unless it lasts so long. */
export const lastingMs = (flow: Flow): number =>
  Math.min(30e3, Math.max(3e3, 0.04 * (endOf(flow) - startOf(flow))));

/** Places of the grid: their times, and the logarithm of the rate at each; gaps and stalls left out. */
interface Places {
  from: Float64Array;
  to: Float64Array;
  log: Float64Array;
  /** The same without single dips and spikes. */
  smooth: Float64Array;
}

/**
 * The lasting changes of level of a trace. Rates are compared by their logarithm, as noise goes with
 * the rate; what is short and comes back, drifts slowly or lies within the noise is none.
 *
 * @param most places of the grid; fewer are quicker
 * @returns in order of time; none for fewer than eight samples
 */
export function changesOf(flow: Flow, most = PLACES): Change[] {
  const [start, end] = [startOf(flow), endOf(flow)];
  const whole = changesIn(flow, most);
  const early = start + (end - start) * EARLY;
  if (end - start <= 2 * most * flow.usualMs || flow.to.length < FEW) return whole;
  // What lies near the end of the early part is seen better in the whole.
  const until = start + (early - start) * 0.8;
  const close = changesOf(before(flow, early), most).filter(({ ms }) => ms < until);
  return [...close, ...whole.filter(({ ms }) => ms >= until)];
}

/** A flow up to a time. */
function before(flow: Flow, ms: number): Flow {
  const n = sampleAt(flow, ms);
  return {
    ...flow,
    from: flow.from.subarray(0, n),
    to: flow.to.subarray(0, n),
    bytes: flow.bytes.subarray(0, n),
    sum: flow.sum.subarray(0, n + 1),
    sampled: flow.sampled.subarray(0, n + 1),
  };
}

function changesIn(flow: Flow, most: number): Change[] {
  const places = placesOf(flow, most);
  const n = places.log.length;
  if (n < 8) return [];
  const noise = Math.max(noiseOf(places.smooth), LEAST_NOISE ** 2);
  const least = n >= 60 ? 3 : 2;
  const cuts = cutsOf(places.smooth, PRICE * Math.log(n) * noise, least);
  const edges = withoutShort(flow, places, merged(places, [0, ...cuts, n], noise), noise);
  return onePerSlope(stepsOf(flow, places, edges, noise), lastingMs(flow) / 2);
}

/** Two steps the same way, close on each other, are one change that took its time. */
function onePerSlope(changes: readonly Change[], close: number): Change[] {
  const single: Change[] = [];
  let last = -Infinity;
  for (const change of changes) {
    const before = single.at(-1);
    const way = ({ before: from, after: to }: Change) => Math.sign(to - from);
    if (before && change.ms - last < close && way(before) === way(change)) {
      const slow = change.ms - before.ms > 2000;
      single[single.length - 1] = { ...before, after: change.after, gradual: slow };
    } else single.push(change);
    last = change.ms;
  }
  return single;
}

function placesOf(flow: Flow, most: number): Places {
  const [start, end] = [startOf(flow), endOf(flow)];
  const width = Math.max((end - start) / most, flow.usualMs);
  const count = Math.max(0, Math.round((end - start) / Math.max(width, 1e-9)));
  const gaps = gapsOf(flow);
  const rates = new Float64Array(count);
  const at = new Float64Array(count + 1);
  let gap = 0;
  for (let i = 0; i <= count; i++) at[i] = start + ((end - start) * i) / count;
  for (let i = 0; i < count; i++) {
    const [a, b] = [at[i]!, at[i + 1]!];
    let missing = 0;
    while (gap < gaps.length && gaps[gap]!.to <= a) gap += 1;
    for (let g = gap; g < gaps.length && gaps[g]!.from < b; g++)
      missing += Math.max(0, Math.min(b, gaps[g]!.to) - Math.max(a, gaps[g]!.from));
    const covered = b - a - missing;
    rates[i] =
      covered >= (b - a) / 2 ? (bytesUntil(flow, b) - bytesUntil(flow, a)) / covered / 1e3 : NaN;
  }
  const usual = medianOf(rates.filter((rate) => rate > 0));
  const kept = [...rates.keys()].filter((i) => rates[i]! > STALLED * usual);
  const log = Float64Array.from(kept, (i) => Math.log(rates[i]!));
  const reach = log.length >= 200 ? 3 : log.length >= 40 ? 2 : 1;
  return {
    from: Float64Array.from(kept, (i) => at[i]!),
    to: Float64Array.from(kept, (i) => at[i + 1]!),
    log,
    smooth: runningMedian(log, reach),
  };
}

const levelOf = ({ smooth }: Places, from: number, to: number) => medianOf(smooth.slice(from, to));

/** Joins neighbours that differ by too little, or by no more than their noise; the nearest first. */
function merged(places: Places, edges: readonly number[], noise: number): number[] {
  const left = [...edges];
  const levels = left.slice(1).map((to, i) => levelOf(places, left[i]!, to));
  for (;;) {
    let [nearest, at] = [Infinity, -1];
    for (let i = 1; i < levels.length; i++) {
      const difference = Math.abs(levels[i]! - levels[i - 1]!);
      const [a, b] = [left[i]! - left[i - 1]!, left[i + 1]! - left[i]!];
      const clear = difference > CLEAR * Math.sqrt(noise * (1 / a + 1 / b));
      if (clear && difference > -Math.log(1 - SMALLEST)) continue;
      if (difference < nearest) [nearest, at] = [difference, i];
    }
    if (at < 0) return left;
    left.splice(at, 1);
    levels.splice(at - 1, 2, levelOf(places, left[at - 1]!, left[at]!));
  }
}

/** Takes out what is short and comes back to where it was, and what is short at an end. */
function withoutShort(flow: Flow, places: Places, edges: number[], noise: number): number[] {
  const lasting = lastingMs(flow);
  const atEnd = Math.min(2e3, 0.02 * (endOf(flow) - startOf(flow)));
  const length = (i: number, more = 0) =>
    places.to[left[i + 1 + more]! - 1]! - places.from[left[i]!]!;
  const level = (i: number) => levelOf(places, left[i]!, left[i + 1]!);
  let left = [...edges];
  let longest = 0;
  // What is higher after a pause than before it has recovered in it, however soon that is over.
  const recovers = (i: number) =>
    places.from[left[i]!]! - places.to[left[i]! - 1]! > lasting / 2 && level(i) > level(i - 1);
  // The shortest first: what is left of a level between two dips may be short as well.
  for (;;) {
    let [shortest, at, stairs] = [Infinity, -1, 0];
    for (let i = 1; i + 2 < left.length; i++) {
      if (recovers(i)) continue;
      // A dip may go down or up again by a stair or two.
      for (let more = 0; more < 3 && i + more + 2 < left.length; more++) {
        const long = length(i, more);
        if (long >= shortest || long >= 2 * lasting) break;
        // How long a level would have lasted that begins or ends with the trace is not known.
        const beside = Math.min(
          i === 1 ? Infinity : length(i - 1),
          i + more + 3 === left.length ? Infinity : length(i + more + 1),
        );
        // Up and down by turns is no dip: of those, most of the time is beside them.
        const short = (long < lasting && long < beside / 2.5) || long < beside / 5 || long < 2e3;
        const back = Math.abs(level(i + more + 1) - level(i - 1)) < -Math.log(1 - 1.5 * SMALLEST);
        if (short && back) [shortest, at, stairs] = [long, i, more];
      }
    }
    if (at < 0) break;
    longest = Math.max(longest, shortest);
    left.splice(at, 2 + stairs);
  }
  left = merged(places, left, noise);
  // What is cut off by the end may be a dip like those before it.
  if (left.length > 2 && length(left.length - 2) < Math.max(atEnd, 1.5 * longest))
    left.splice(-2, 1);
  if (left.length > 2 && length(0) < atEnd && level(0) < level(1)) left.splice(1, 1);
  return left;
}

/** Tells steps from drift, and places each step where it happened. */
function stepsOf(flow: Flow, places: Places, edges: readonly number[], noise: number): Change[] {
  const changes: Change[] = [];
  const level = (i: number) => levelOf(places, edges[i]!, edges[i + 1]!);
  for (let i = 1; i + 1 < edges.length; i++) {
    const range = [edges[i - 1]!, edges[i]!, edges[i + 1]!] as const;
    const kind = stepOrDrift(places.smooth, range, noise, SMALLEST);
    const sign = Math.sign(level(i) - level(i - 1));
    if (kind === "step") {
      changes.push({
        ms: placeOf(flow, places, range, Math.exp(level(i - 1)), Math.exp(level(i))),
        before: Math.exp(level(i - 1)),
        after: Math.exp(level(i)),
        gradual: false,
      });
      continue;
    }
    // Several in one direction, none of them sudden, are one change that took its time.
    let last = i;
    while (
      last + 2 < edges.length &&
      Math.sign(level(last + 1) - level(last)) === sign &&
      stepOrDrift(
        places.smooth,
        [edges[last]!, edges[last + 1]!, edges[last + 2]!],
        noise,
        SMALLEST,
      ) === "drift"
    )
      last += 1;
    const [before, after] = [level(i - 1), level(last)];
    const [began, ended] = [places.to[edges[i]! - 1]!, places.from[edges[last]!]!];
    const whole = endOf(flow) - startOf(flow);
    if (last > i && ended - began < whole / 3 && Math.abs(after - before) > 2 * SMALLEST) {
      const half = (before + after) / 2;
      let at = edges[i]!;
      while (at < edges[last]! && (places.smooth[at]! - half) * sign < 0) at += 1;
      changes.push({
        ms: places.from[Math.min(at, places.from.length - 1)]!,
        before: Math.exp(before),
        after: Math.exp(after),
        gradual: true,
      });
    }
    i = last;
  }
  return changes;
}

/** The sample at which one level turns into the other: with the smallest sum of distances from both. */
function placeOf(
  flow: Flow,
  places: Places,
  [from, cut, to]: readonly [number, number, number],
  before: number,
  after: number,
): number {
  const REACH = 5;
  const first = sampleAt(flow, places.from[Math.max(from, cut - REACH)]!);
  const last = sampleAt(flow, places.from[Math.min(to, cut + REACH) - 1]!);
  const rate = (i: number) => flow.bytes[i]! / 1e3 / (flow.to[i]! - flow.from[i]!);
  const off = (value: number, level: number) => Math.abs(Math.log(Math.max(value, 1e-9) / level));
  // One odd sample must not decide: no distance counts for more than the step.
  const most = Math.abs(Math.log(after / before));
  let [sum, best, place] = [0, 0, first];
  for (let i = first; i <= last && i < flow.to.length; i++) {
    const value = rate(i);
    sum += Math.min(off(value, before), most) - Math.min(off(value, after), most);
    if (sum < best) [best, place] = [sum, i + 1];
  }
  return place < flow.from.length ? flow.from[place]! : endOf(flow);
}
