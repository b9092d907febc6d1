import { allLinks } from "../../chain/link";
import type { Rig } from "../../chain/rig";
import { setUpKey } from "../../chain/set-up";
import type { Observation } from "./observation";
import { sitesOf } from "../hypotheses/site";
import type { RunState } from "../hypotheses/run-state";
import { statesOf } from "./states-of";
import type { SetUpObservation } from "./observation";

/** Rigs that are weighed together: of more, each is weighed with those that have most in common with it. */
export const TOGETHER = 24;

/**
 * What tells most of one rig: the fastest with each of its parts, pairings and conditions, those that tell
 * its parts apart, then those that have most in common with it; all of them where they are few.
 */
export function nearest(one: Observation, all: readonly Observation[]): readonly Observation[] {
  if (all.length <= TOGETHER) return all;
  const keys = new Set(sitesOf(one.rig).map(({ key }) => key));
  const fastest = new Map<string, Observation>();
  const counted = all.map((other) => {
    let common = 0;
    for (const { key } of sitesOf(other.rig)) {
      if (!keys.has(key)) continue;
      common += 1;
      const best = fastest.get(key);
      const faster = !best || other.repeats.median > best.repeats.median;
      if (faster && !other.doubtful) fastest.set(key, other);
    }
    return { other, common };
  });
  // Of those alike the faster show more: what has passed, passed.
  const shows = ({ doubtful, repeats }: Observation) => (doubtful ? 0 : repeats.median);
  const near = counted
    .toSorted((a, b) => b.common - a.common || shows(b.other) - shows(a.other))
    .map(({ other }) => other);
  const first = [one, ...fastest.values()];
  const sound = near.filter(({ doubtful }) => !doubtful);
  return [...new Set([...first, ...tellingApart(one, first, sound), ...near])].slice(0, TOGETHER);
}

/**
 * Rigs by which the parts and conditions of one can be told apart: for any two of them one rig with the
 * first and without the second, as far as there is such a rig. Few rigs do that for many at a time.
 *
 * @param taken those that are taken anyway
 * @param all those to take from, the best first
 */
function tellingApart(
  one: Observation,
  taken: readonly Observation[],
  all: readonly Observation[],
): Observation[] {
  const own = sitesOf(one.rig).filter(({ kind }) => kind !== "pairing");
  const standing = ({ rig }: Observation) => {
    const keys = new Set(sitesOf(rig).map(({ key }) => key));
    return own.map(({ key }) => keys.has(key));
  };
  const kinds = new Map<string, { other: Observation; stands: boolean[] }>();
  for (const other of all) {
    const stands = standing(other);
    if (!kinds.has(stands.join())) kinds.set(stands.join(), { other, stands });
  }
  const open = new Set(
    own.flatMap((_, a) => own.flatMap((__, b) => (a === b ? [] : [`${a} ${b}`]))),
  );
  const toldBy = (stands: readonly boolean[]) =>
    [...open].filter((pair) => {
      const [a, b] = pair.split(" ").map(Number) as [number, number];
      return stands[a] && !stands[b];
    });
  for (const other of taken) for (const pair of toldBy(standing(other))) open.delete(pair);
  const found: Observation[] = [];
  for (;;) {
    let best: { other: Observation; told: string[] } | null = null;
    for (const { other, stands } of kinds.values()) {
      const told = toldBy(stands);
      if (told.length > (best?.told.length ?? 0)) best = { other, told };
    }
    if (!best) return found;
    found.push(best.other);
    for (const pair of best.told) open.delete(pair);
  }
}

/** Whether two rigs are one set-up, whose links came up alike. */
export const observedWith = (a: Rig, b: Rig): boolean =>
  a === b || (setUpKey(a) === setUpKey(b) && linksKey(a) === linksKey(b));

/** All that was seen, by set-up; worked out once for each list. */
export function bySetUp(all: readonly Observation[]): ReadonlyMap<string, readonly Observation[]> {
  let known = lists.get(all);
  if (!known) {
    known = new Map();
    for (const one of all) {
      const key = setUpKey(one.rig);
      const alike = known.get(key);
      if (alike) alike.push(one);
      else known.set(key, [one]);
    }
    lists.set(all, known);
  }
  return known;
}

const lists = new WeakMap<readonly Observation[], Map<string, Observation[]>>();

/** How the links of a rig came up, and what others held of them: the same items may have run otherwise. */
function linksKey(rig: Rig): string {
  let known = links.get(rig);
  if (known === undefined) {
    known = JSON.stringify([allLinks(rig).map(({ mode }) => mode?.id ?? null), rig.held]);
    links.set(rig, known);
  }
  return known;
}

const links = new WeakMap<Rig, string>();

/** The repeats of an observation by the states of the drive that they began in. */
function byState(one: Observation): { states: readonly RunState[]; rates: number[] }[] {
  const found = new Map<string, { states: readonly RunState[]; rates: number[] }>();
  one.repeats.values.forEach((rate, i) => {
    const states = statesOf(one, i);
    const known = found.get(states.join()) ?? { states, rates: [] };
    known.rates.push(rate);
    found.set(states.join(), known);
  });
  return [...found.values()].toSorted((a, b) => b.states.length - a.states.length);
}

/**
 * All that was seen of one set-up together: another day's repeats are no other set-up. What its drive
 * began hot, nearly full or without its write cache is one of its own.
 */
export function pooled(alike: readonly Observation[]): SetUpObservation[] {
  const found = new Map<string, SetUpObservation & { rates: number[]; measurementIds: string[] }>();
  for (const one of alike) {
    const { rig, drill, measurementIds } = one;
    for (const { states, rates } of byState(one)) {
      const key = `${setUpKey(rig)} ${linksKey(rig)} ${states.join()}`;
      const known = found.get(key);
      if (known) {
        known.rates.push(...rates);
        known.measurementIds.push(...measurementIds);
      } else {
        const seen = { rig, drill, rates, measurementIds: [...measurementIds] };
        found.set(key, states.length > 0 ? { ...seen, states } : seen);
      }
    }
  }
  return [...found.values()];
}
