import type { Rig } from "../chain/rig";
import type { Belief } from "./believed";
import type { Change } from "./change";
import { placeKey, type Cause } from "./explanation";
import { sitesOf } from "./site";

/** A change, with the most that the ledger lets through after it, MB/s. */
export type Reached = Change & { most: number };

/** A rig that is to tell something of a rate has to be able to carry clearly more. */
const TELLING = 1.12;

/**
 * Places that stand together in every rig that was measured or can be made by one change: no run on
 * this shelf can part them.
 *
 * @returns by place, the name of its group; places that stand alone are not in it
 */
export function groupsOf(
  belief: Belief,
  t: number,
  causes: readonly Cause[],
  changes: readonly Reached[],
): Map<string, string> {
  const { median } = belief.trials[t]!;
  const slow = slowElsewhere(belief, t);
  const tells = (rig: Rig) => !sitesOf(rig).some(({ key }) => slow.has(key));
  const rigs = [
    ...belief.trials.flatMap((one) =>
      one.median > median * TELLING || tells(one.rig) ? [one.rig] : [],
    ),
    ...changes.flatMap(({ most, rig }) => (most > median * TELLING && tells(rig) ? [rig] : [])),
  ];
  const standing = rigs.map((rig) => new Set(sitesOf(rig).map(({ key }) => key)));
  const members = new Map<string, string[]>();
  for (const { site, place } of causes) {
    if (!site) continue;
    const mark = standing.map((keys) => (keys.has(site.key) ? "1" : "0")).join("");
    const together = members.get(mark) ?? [];
    if (!together.includes(place)) members.set(mark, [...together, place]);
  }
  // Links of one mode in a row are narrow alike.
  for (const { at, stage, density } of belief.trials[t]!.ledger.by) {
    if (stage?.cause.kind !== "link" || density.every((value) => value < 1e-6)) continue;
    const mark = `mode ${stage.cause.link.mode?.id}`;
    members.set(mark, [...(members.get(mark) ?? []), placeKey(at)]);
  }
  return new Map(
    [...members.values()]
      .filter((places) => places.length > 1)
      .flatMap((places) => places.map((place) => [place, places.toSorted()[0]!])),
  );
}

/** From here on a site counts as what holds another rig back. */
const KNOWN = 0.8;

/**
 * Sites outside a rig that are known to carry no more than it gives: with them in it, no rig tells
 * anything of this one.
 */
function slowElsewhere({ sets, sites, trials, bench }: Belief, t: number): Set<string> {
  const found = new Set<string>();
  trials.forEach(({ median }, other) => {
    if (median > trials[t]!.median * TELLING) return;
    const chances = new Map<number, number>();
    for (const { probability, shares } of sets)
      for (const [site, at] of shares[other]!.sites) {
        const share = at.reduce((sum, value) => sum + value, 0);
        chances.set(site, (chances.get(site) ?? 0) + probability * share);
      }
    for (const [site, chance] of chances)
      if (chance > KNOWN && !bench.standsIn[t]!.has(site)) found.add(sites[site]!.key);
  });
  return found;
}
