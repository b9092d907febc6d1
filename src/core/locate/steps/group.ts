import type { Rig } from "../../chain/rig";
import type { Posterior } from "../posterior/posterior";
import type { Change } from "./change";
import { placeKey, type Cause } from "../posterior/explanation";
import { placeOf } from "../likelihood/grid";
import { sitesOf } from "../hypotheses/site";
import { stateSite } from "../hypotheses/state-site";
import type { Draw } from "../posterior/draw";

/** A change, with the most that the ledger lets through after it, MB/s. */
export type Reached = Change & { most: number };

/** A rig that is to tell something of a rate has to be able to carry clearly more. */
const TELLING = 1.12;

/**
 * Places that stand together in every rig that was measured or can be made by one change: no run on
 * this shelf can part them.
 *
 * @param draws ways in which the bench may be, given what was seen
 * @returns by place, the name of its group; places that stand alone are not in it
 */
export function groupsOf(
  posterior: Posterior,
  t: number,
  causes: readonly Cause[],
  changes: readonly Reached[],
  draws: readonly Draw[],
): Map<string, string> {
  const { median } = posterior.trials[t]!;
  const tells = telling(posterior, t, draws);
  const standing = [
    ...posterior.trials.filter((one) => one.median > median * TELLING || tells(one.rig)),
    ...changes
      .filter(({ most, rig }) => most > median * TELLING && tells(rig))
      .map(({ rig, states = [] }) => ({
        sites: [...sitesOf(rig), ...states.map((state) => stateSite(rig, state))],
      })),
  ].map(({ sites }) => new Set(sites.map(({ key }) => key)));
  const members = new Map<string, string[]>();
  for (const { site, place } of causes) {
    if (!site) continue;
    const mark = standing.map((keys) => (keys.has(site.key) ? "1" : "0")).join("");
    const together = members.get(mark) ?? [];
    if (!together.includes(place)) members.set(mark, [...together, place]);
  }
  // Links of one mode in a row are narrow alike.
  for (const { at, stage, density } of posterior.trials[t]!.ledger.by) {
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

/** From here on a rig is as good as known to be held back by something else. */
const KNOWN = 0.8;

/**
 * Whether a rig can tell anything of a rate: not where what is known of its other parts, pairings and
 * conditions lets through no more than that rate.
 */
function telling({ sites, trials, grid, bench }: Posterior, t: number, draws: readonly Draw[]) {
  const { rank } = grid;
  const numbers = new Map(sites.map(({ key }, i) => [key, i]));
  const most = rank[placeOf(grid, trials[t]!.median * TELLING)]!;
  return (rig: Rig): boolean => {
    const others = sitesOf(rig).flatMap(({ key }) => {
      const number = numbers.get(key);
      return number === undefined || bench.standsIn[t]!.has(number) ? [] : [number];
    });
    const held = draws.reduce(
      (sum, { weight, limits }) =>
        others.some((site) => limits.has(site) && rank[limits.get(site)!]! <= most)
          ? sum + weight
          : sum,
      0,
    );
    return held <= KNOWN;
  };
}
