import { allLinks } from "../chain/link";
import type { Rig } from "../chain/rig";
import type { Observation as Whole } from "../study/measurement";
import { setUpKey } from "./change";
import { HOT_START, sitesOf } from "./site";
import type { Seen } from "./trial";

/** What locating needs of what was seen of a rig. */
export type Observation = Pick<Whole, "rig" | "drill" | "repeats" | "measurementIds" | "doubtful"> &
  Partial<Pick<Whole, "results">>;

/** Rigs that are weighed together: of more, each is weighed with those that have most in common with it. */
export const TOGETHER = 24;

/** What was seen of the rigs that have most in common with one; all of them where they are few. */
export function nearest(one: Observation, all: readonly Observation[]): readonly Observation[] {
  if (all.length <= TOGETHER) return all;
  const keys = new Set(sitesOf(one.rig).map(({ key }) => key));
  const common = ({ rig }: Observation) =>
    sitesOf(rig).reduce((sum, { key }) => sum + (keys.has(key) ? 1 : 0), 0);
  return all
    .map((other) => ({ other, common: other === one ? Infinity : common(other) }))
    .toSorted((a, b) => b.common - a.common)
    .slice(0, TOGETHER)
    .map(({ other }) => other);
}

/** Whether two rigs are one set-up, whose links came up alike. */
export const observedWith = (a: Rig, b: Rig): boolean =>
  setUpKey(a) === setUpKey(b) && linksKey(a) === linksKey(b);

/** How the links of a rig came up, and what others held of them: the same items may have run otherwise. */
const linksKey = (rig: Rig) =>
  JSON.stringify([allLinks(rig).map(({ mode }) => mode?.id ?? null), rig.held]);

/** The repeats of an observation that a hot drive began, and the others. */
function byHeat({ repeats, results = [] }: Observation): { hot: boolean; rates: number[] }[] {
  const isHot = (i: number) => (results[i]?.startCelsius ?? 0) >= HOT_START;
  return [true, false].flatMap((hot) => {
    const rates = repeats.values.filter((_, i) => isHot(i) === hot);
    return rates.length > 0 ? [{ hot, rates }] : [];
  });
}

/**
 * All that was seen of one set-up together: another day's repeats are no other set-up. What a hot drive
 * began is one of its own.
 */
export function seenOnce(alike: readonly Observation[]): Seen[] {
  const found = new Map<string, Seen & { rates: number[]; measurementIds: string[] }>();
  for (const { rig, drill, measurementIds, ...one } of alike) {
    for (const { hot, rates } of byHeat({ rig, drill, measurementIds, ...one })) {
      const key = `${setUpKey(rig)} ${linksKey(rig)} ${hot}`;
      const known = found.get(key);
      if (known) {
        known.rates.push(...rates);
        known.measurementIds.push(...measurementIds);
      } else {
        const seen = { rig, drill, rates, measurementIds: [...measurementIds] };
        found.set(key, hot ? { ...seen, hot } : seen);
      }
    }
  }
  return [...found.values()];
}
