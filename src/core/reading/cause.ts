import { linearRegression } from "simple-statistics";
import { formatDuration } from "../units/number";
import type { Change } from "./changes";

/** What a drop comes from, as far as it can be told. */
export interface Cause {
  /** Other: neither of the two. Unknown: it may be either, or nobody looked at the temperature. */
  kind: "cache" | "heat" | "other" | "unknown";
  /** Why, each a short sentence. */
  because: string[];
}

export interface Warmth {
  ms: number;
  celsius: number;
}

export interface Surroundings {
  /** Whether mostly written: only writing fills a write cache. */
  writing: boolean;
  /** Of the drive or its enclosure, in order of time; empty where nobody looked. */
  warmth: readonly Warmth[];
  /** When the system itself said that something was slowed down for its heat, milliseconds. */
  throttledAt: readonly number[];
}

/**
 * Where drives begin to slow down: the NVM Express base specification recommends 343 K (70 °C) for the
 * warning threshold WCTEMP, and makers set it from 65 °C on. At 55 °C none is known to.
 */
const HOT = { never: 55, usual: 68 };
/** What counts as a drop. */
export const DROP = 0.85;
const NEAR_MS = 3000;

/**
 * Tells throttling from the edge of a cache, for each change that is a drop: by temperature and how it
 * changed before and after, by direction, and by whether the rate comes back when it has cooled. Each sign counts as much as it
 * stands against the other explanation (logarithms of odds); what is not known counts nothing.
 *
 * @param changes in order of time
 * @param end of the trace, milliseconds
 * @returns one for each change; null for one that rises
 */
export function causesOf(
  changes: readonly Change[],
  around: Surroundings,
  end: number,
): (Cause | null)[] {
  const drops = changes.flatMap((change, i) => (isFall(change) ? [i] : []));
  return changes.map((change, i) => {
    if (!isFall(change)) return null;
    const until = changes.slice(i + 1).find((later) => later.after > later.before)?.ms ?? end;
    return causeOf(change, changes[i + 1] ?? null, drops, changes, around, until);
  });
}

export const isDrop = ({ before, after }: Change): boolean => after < before * DROP;
const isFall = ({ before, after }: Change): boolean => after < before;

function causeOf(
  drop: Change,
  next: Change | null,
  drops: readonly number[],
  changes: readonly Change[],
  { writing, warmth, throttledAt }: Surroundings,
  until: number,
): Cause {
  const because: string[] = [];
  if (throttledAt.some((ms) => Math.abs(ms - drop.ms) < 5e3))
    return { kind: "heat", because: ["the system says that it was slowed down for its heat"] };
  const at = celsiusNear(warmth, drop.ms);
  const returns = next !== null && next.after > next.before / DROP;
  const often = drops.filter((i) => {
    const later = changes[i + 1];
    return later && later.after > later.before / DROP;
  }).length;
  if (at === null) {
    if (!writing) {
      const comes = often > 1 ? ["again and again it comes back by itself"] : [];
      const reason = "reading fills no write cache";
      return { kind: often > 1 ? "heat" : "unknown", because: [reason, ...comes] };
    }
    const why = "no temperature was reported";
    const cliff = drop.gradual || often > 1 ? ["it is not the cliff that a cache makes"] : [];
    return { kind: "unknown", because: [why, ...cliff] };
  }
  let odds = writing ? Math.log(1 / 2) : Math.log(3);
  if (!writing) because.push("reading fills no write cache");
  const hot = (at - (HOT.never + HOT.usual) / 2) / ((HOT.usual - HOT.never) / 2);
  // That it is cool speaks against heat by far more than that it is warm speaks for it.
  odds += hot < 0 ? 2.5 * Math.max(-1.5, hot) : Math.min(1, hot);
  because.push(`it was at ${Math.round(at)} °C`);
  if (drop.gradual) odds += 1;
  const since = changes.findLast(({ ms }) => ms < drop.ms)?.ms ?? -Infinity;
  const further = drops.some((i) => changes[i]!.ms > drop.ms && changes[i]!.ms <= until);
  const before = warming(warmth, since, drop.ms);
  const rose = before.weight > 0;
  const after = afterwards(warmth, { at, drop, returns, further, until, rose });
  for (const { weight, text } of [before, after]) {
    odds += weight;
    if (text) because.push(text);
  }
  const others = drops.map((i) => celsiusNear(warmth, changes[i]!.ms));
  const alike = others.filter((other) => other !== null && Math.abs(other - at) <= 2).length;
  if (alike > 1 && often > 0) {
    odds += 1.5;
    because.push(`${alike} drops came at that temperature`);
  }
  if (odds > SURE) return { kind: "heat", because };
  if (odds >= -SURE) return { kind: "unknown", because };
  return { kind: writing && isDrop(drop) ? "cache" : "other", because };
}

/** Odds nearer to even than this (by their logarithm, 5 to 3) leave it open. */
const SURE = 0.5;

/** What a sign adds to the logarithm of the odds of heat, and its words; empty for nothing worth telling. */
interface Weighed {
  weight: number;
  text: string;
}

/** So far back its course is looked at, and so long it has to be known, milliseconds. */
const BEFORE_MS = { most: 300e3, near: 120e3, least: 30e3, minute: 60e3 };
/** A rise by less than this up to a fall is none, °C: sensors tell whole degrees. */
const RISE = 1.1;
/** A rise by so much is a clear one. */
const CLEAR_RISE = 4;

/**
 * Whether it had become warmer up to a fall. Heat that was borne at the full rate for minutes does not
 * make a drive slow down all at once.
 *
 * @param from when the level before the fall began, milliseconds
 * @param to when the fall came
 */
function warming(warmth: readonly Warmth[], from: number, to: number): Weighed {
  const since = (back: number) =>
    warmth.filter(({ ms }) => ms >= Math.max(from, to - back) && ms <= to);
  const risen = riseOf(since(BEFORE_MS.near));
  if (risen === null) return { weight: 0, text: "" };
  if (risen > RISE)
    return {
      weight: 2 * Math.min(1, (risen - RISE) / (CLEAR_RISE - RISE)),
      text: `it rose by ${formatDegrees(risen)} up to it`,
    };
  // How long it had been as hot: what does not rise now may have stood so for longer.
  const all = since(BEFORE_MS.most);
  const first = all.findLastIndex(({ celsius }) => celsius < all.at(-1)!.celsius - 2 * RISE) + 1;
  const long = all.at(-1)!.ms - all[first]!.ms;
  const weight = Math.max(-1, (risen - RISE) / RISE) * Math.min(3, long / BEFORE_MS.minute);
  const text = `it had been as hot at the full rate for ${formatDuration(long)} before`;
  return { weight, text: weight < -0.5 ? text : "" };
}

/** By how much it rose in what was seen, °C, by a straight line; null where too little is known. */
function riseOf(seen: readonly Warmth[]): number | null {
  const long = (seen.at(-1)?.ms ?? 0) - (seen[0]?.ms ?? 0);
  if (seen.length < 5 || long < BEFORE_MS.least) return null;
  return linearRegression(seen.map(({ ms, celsius }) => [ms, celsius])).m * long;
}

/** What the temperature says once the rate has fallen: heat goes down with the rate, and the rate comes back. */
function afterwards(
  warmth: readonly Warmth[],
  {
    at,
    drop,
    returns,
    further,
    until,
    rose,
  }: {
    at: number;
    drop: Change;
    returns: boolean;
    further: boolean;
    until: number;
    rose: boolean;
  },
): Weighed {
  const after = warmth.filter(({ ms }) => ms > drop.ms + 2 * NEAR_MS && ms <= until);
  const sorted = after.map(({ celsius }) => celsius).sort((a, b) => a - b);
  const coolest = sorted[Math.floor(sorted.length / 10)] ?? Infinity;
  const usual = sorted[sorted.length >> 1] ?? -Infinity;
  const long = (after.at(-1)?.ms ?? 0) - (after[0]?.ms ?? 0);
  if (returns)
    return coolest < at - 1
      ? { weight: 2, text: `the rate came back once it had cooled to ${formatDegrees(coolest)}` }
      : { weight: 0, text: "" };
  if (after.length > 4 && coolest < at - 5)
    return {
      // Drives that slowed down for their heat come back when they have cooled by a few degrees.
      weight: -1.5 * Math.min(2, (at - coolest) / 5),
      text: `it cooled to ${formatDegrees(coolest)} and the rate stayed low`,
    };
  if (long < BEFORE_MS.minute || further || drop.gradual || usual < at - 1)
    return { weight: 0, text: "" };
  const hotter = usual > at + 1.5;
  // What was still becoming warmer as it fell may have been slowed down by too little.
  const all = rose ? 0.5 : hotter ? 2 : 1;
  return {
    weight: -all,
    text: `it was ${hotter ? "hotter" : "as hot"} for ${formatDuration(long)} afterwards, and fell no further`,
  };
}

const formatDegrees = (celsius: number) => `${Math.round(celsius)} °C`;

/**
 * Whether short dips come from heat: each begins where it is hot, as hot as the others, and ends where
 * it has cooled.
 */
export function dipsAreHeat(
  dips: readonly { ms: number; until: number }[],
  { warmth }: Surroundings,
): boolean {
  if (dips.length < 3 || warmth.length === 0) return false;
  const begins = dips.map(({ ms }) => celsiusNear(warmth, ms, 1000) ?? 0).sort((a, b) => a - b);
  const ends = dips.map(({ until }) => celsiusNear(warmth, until, 1000) ?? 0).sort((a, b) => a - b);
  const [begin, end] = [begins[begins.length >> 1]!, ends[ends.length >> 1]!];
  const top = warmth.reduce((most, { celsius }) => Math.max(most, celsius), -Infinity);
  return begin > (HOT.never + HOT.usual) / 2 && top - begin <= 3 && end <= begin - 1;
}

/** Mean of what was read about a time, else between its neighbours; null where nothing was near. */
function celsiusNear(warmth: readonly Warmth[], ms: number, reach = NEAR_MS): number | null {
  if (warmth.length === 0) return null;
  const near = warmth.filter((one) => Math.abs(one.ms - ms) <= reach);
  if (near.length > 0) return near.reduce((sum, { celsius }) => sum + celsius, 0) / near.length;
  const next = warmth.findIndex((one) => one.ms > ms);
  const [a, b] = [warmth.at(next < 0 ? -1 : next - 1), next < 0 ? undefined : warmth[next]];
  if (next === 0 || !a) return b!.celsius;
  if (!b) return a.celsius;
  return a.celsius + ((ms - a.ms) / (b.ms - a.ms)) * (b.celsius - a.celsius);
}
