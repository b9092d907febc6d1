import type { Change } from "./changes";

/** What a drop comes from, as far as it can be told. */
export interface Cause {
  kind: "cache" | "heat" | "unknown";
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
 * Tells throttling from the edge of a cache, for each change that is a drop: by temperature, by
 * direction, and by whether the rate comes back when it has cooled. Each sign counts as much as it
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
    const why = "there is no temperature to tell it from throttling by";
    return drop.gradual || often > 1
      ? { kind: "unknown", because: [why, "it is not the cliff that a cache makes"] }
      : { kind: "cache", because: ["the first lasting drop of a write", why] };
  }
  let odds = writing ? Math.log(1 / 2) : Math.log(3);
  if (!writing) because.push("reading fills no write cache");
  const hot = (at - (HOT.never + HOT.usual) / 2) / ((HOT.usual - HOT.never) / 2);
  odds += 2.5 * Math.max(-1.5, Math.min(1, hot));
  because.push(`it was at ${Math.round(at)} °C`);
  if (drop.gradual) odds += 1;
  const after = warmth.filter(({ ms }) => ms > drop.ms + 2 * NEAR_MS && ms <= until);
  const sorted = after.map(({ celsius }) => celsius).sort((a, b) => a - b);
  const coolest = sorted[Math.floor(sorted.length / 10)] ?? Infinity;
  if (returns && coolest < at - 1) {
    odds += 2;
    because.push(`the rate came back once it had cooled to ${Math.round(coolest)} °C`);
  } else if (!returns && after.length > 4 && coolest < at - 5) {
    odds -= 1.5;
    because.push(`it cooled to ${Math.round(coolest)} °C and the rate stayed low`);
  }
  const others = drops.map((i) => celsiusNear(warmth, changes[i]!.ms));
  const alike = others.filter((other) => other !== null && Math.abs(other - at) <= 2).length;
  if (alike > 1 && often > 0) {
    odds += 1.5;
    because.push(`${alike} drops came at that temperature`);
  }
  if (odds > 0) return { kind: "heat", because };
  return { kind: writing && isDrop(drop) ? "cache" : "unknown", because };
}

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
