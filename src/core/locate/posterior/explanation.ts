import type { Posterior } from "./posterior";
import type { CauseKind } from "../hypotheses/opinion";
import type { At, Site } from "../hypotheses/site";

/** What kinds of explanation there are. */
export type ExplanationKind = CauseKind | "as-designed" | "memory-answered";

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
 * @param t which of the posterior's trials
 */
export function causesOf(posterior: Posterior, t: number): Cause[] {
  const { sites, sets, bench } = posterior;
  const trial = posterior.trials[t]!;
  const causes = new Map<string, Cause>();
  const add = (kind: ExplanationKind, at: At, site: Site | null, probability: number) => {
    if (!(probability > 0)) return;
    const place = placeKey(at);
    const key = `${kind} ${place}`;
    const known = causes.get(key);
    if (known) known.probability += probability;
    else causes.set(key, { kind, at, place, site, probability });
  };
  for (const { probability, shares } of sets) {
    const share = shares[t]!;
    for (const [number, at] of share.sites) {
      const { kinds } = bench.priors[number]!;
      const site = sites[number]!;
      for (const { kind, density: own } of kinds) {
        let part = 0;
        at.forEach((chance, i) => {
          const all = kinds.reduce((sum, one) => sum + one.density[i]!, 0);
          if (all > 0) part += (chance * own[i]!) / all;
        });
        add(kind, site.at, site, probability * part);
      }
    }
    share.asDesigned.forEach((part, j) => {
      const { at } = trial.ledger.by[j]!;
      add("as-designed", at, null, probability * part);
    });
    add("nothing", null, null, probability * share.odd);
  }
  return [...causes.values()]
    .filter(({ probability }) => probability >= LISTED)
    .toSorted((a, b) => b.probability - a.probability || (a.place < b.place ? -1 : 1));
}
