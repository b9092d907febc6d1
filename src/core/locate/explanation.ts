import type { Part } from "../chain/part";
import type { Belief } from "./believed";
import type { CauseKind } from "./prior";
import type { At, Site } from "./site";
import type { Trial } from "./trial";

/** What kinds of explanation there are. */
export type ExplanationKind = CauseKind | "as-designed" | "no-queueing" | "memory-answered";

/** One reason why a rig may give what it gives. */
export interface Cause {
  kind: ExplanationKind;
  at: At;
  /** The same for all causes at one place. */
  place: string;
  site: Site | null;
  probability: number;
}

/** Where an explanation looks, as a key: two ends of one pairing are the same either way round. */
export const placeKey = (at: At): string =>
  at && "between" in at ? `between ${[...at.between].toSorted().join(" + ")}` : JSON.stringify(at);

/** Explanations that are less likely than this are not listed. */
const LISTED = 0.002;

/**
 * What may hold a rig back and how likely each is, the likeliest first.
 *
 * @param t which of the belief's trials
 */
export function causesOf(belief: Belief, t: number): Cause[] {
  const { sites, sets, bench } = belief;
  const trial = belief.trials[t]!;
  const causes = new Map<string, Cause>();
  const add = (kind: ExplanationKind, at: At, site: Site | null, probability: number) => {
    if (!(probability > 0)) return;
    const place = placeKey(at);
    const key = `${kind} ${place}`;
    const known = causes.get(key);
    if (known) known.probability += probability;
    else causes.set(key, { kind, at, place, site, probability });
  };
  const above = aboveCeiling(trial);
  for (const { probability, shares } of sets) {
    const share = shares[t]!;
    for (const [number, at] of share.sites) {
      const { kinds, density } = bench.priors[number]!;
      const site = sites[number]!;
      for (const { kind, density: own } of kinds) {
        const total = kinds.reduce((sum, one) => sum + weightOf(one.density, density), 0);
        let part = 0;
        at.forEach((chance, i) => {
          const all = kinds.reduce((sum, one) => sum + one.density[i]!, 0);
          if (all > 0) part += (chance * own[i]!) / all;
        });
        if (total > 0) add(kind, site.at, site, probability * part);
      }
    }
    share.asDesigned.forEach((part, j) => {
      const { at } = trial.ledger.by[j]!;
      add("as-designed", at, null, probability * part);
    });
    if (above) add("memory-answered", { condition: "memory" }, null, probability * share.odd);
    else add("nothing", null, null, probability * share.odd);
  }
  return [...causes.values()]
    .filter(({ probability }) => probability >= LISTED)
    .toSorted((a, b) => b.probability - a.probability || (a.place < b.place ? -1 : 1));
}

const weightOf = (density: Float64Array, all: Float64Array) =>
  density.reduce((sum, value, i) => sum + (all[i]! > 0 ? value : 0), 0);

/** Whether a rig was faster than anything its ledger allows. */
function aboveCeiling({ median, ledger, noise }: Trial): boolean {
  return median > ledger.most * (1 + 2 * noise);
}

/** The parts that an explanation puts the blame on. */
export const accused = ({ site }: Cause): readonly Part[] => site?.parts ?? [];
