import { drillKey, type Drill } from "../../drills/drill";
import type { Posterior } from "../posterior/posterior";
import type { Change } from "./change";
import { designed } from "../../chain/designed";
import { ledgerCapacity } from "../likelihood/ledger-capacity";
import { priorOf, type SitePrior } from "../posterior/prior";
import { shownBy } from "../observations/requests";
import { pairingsIn, sitesOf } from "../hypotheses/site";
import { expectedOf } from "../likelihood/slower-modes";
import { stateSite } from "../hypotheses/state-site";
import type { Draw } from "../posterior/draw";

/** How a change may come out in each draw, whichever rig is asked about. */
export interface Predictive {
  /** Outcomes are told apart by bins of the grid: how many there are, and of how many places each. */
  bins: number;
  width: number;
  /**
   * Of each draw: the bin of the least limit that is known in the changed rig; `bins` for none; above
   * that, one for each slower mode.
   */
  binOf: readonly number[];
  /** By that bin: how likely the changed rig runs in each bin. */
  spreads: ReadonlyMap<number, Float64Array>;
}

/** @returns null where the changed rig does not link */
export type Outlook = (change: Change, drill: Drill) => Predictive | null;

/** Outcomes are told apart from this difference on, as a difference of logarithms. */
const BIN = 0.07;

/** How changes may come out, each worked out once, for all rigs that are asked about. */
export function outlookOf(posterior: Posterior, draws: readonly Draw[]): Outlook {
  const numbers = new Map(posterior.sites.map(({ key }, i) => [key, i]));
  const known = new Map<Change, Map<string, Predictive | null>>();
  return (change, drill) => {
    const byDrill = known.get(change) ?? new Map<string, Predictive | null>();
    known.set(change, byDrill);
    const key = drillKey(drill);
    let found = byDrill.get(key);
    if (found === undefined)
      byDrill.set(key, (found = prospectOf(posterior, draws, numbers, change, drill)));
    return found;
  };
}

function prospectOf(
  { grid, direction, opinion, signatures, trials }: Posterior,
  draws: readonly Draw[],
  numbers: ReadonlyMap<string, number>,
  { rig, states = [] }: Change,
  drill: Drill,
): Predictive | null {
  const shown = shownBy(trials.map((one) => ({ ...one, requests: one.ledger.requests })));
  const ledger = ledgerCapacity(designed(rig), drill, direction, grid, shown);
  if (!ledger) return null;
  const sites = [...sitesOf(rig), ...states.map((state) => stateSite(rig, state))];
  const here = sites.flatMap(({ key }) => numbers.get(key) ?? []);
  // What was never seen may carry less than it says, as anything may.
  const priors = sites
    .filter(({ key }) => !numbers.has(key))
    .map((site) =>
      priorOf(site, direction, ledger, grid, {
        opinion,
        signatures,
        pairings: pairingsIn(sitesOf(rig)),
      }),
    );
  const width = Math.max(1, Math.round(BIN / grid.step));
  const bins = Math.ceil(grid.rates.length / width) + 1;
  const count = grid.rates.length;
  const binOf = draws.map(({ limits }) => {
    const ranks = here.flatMap((number) => grid.rank[limits.get(number) ?? -1] ?? []);
    if (ranks.length === 0) return bins;
    const least = grid.order[Math.min(...ranks)]!;
    return least < count ? Math.floor(least / width) : bins + 1 + (least - count);
  });
  const bands = new Map<number, Float64Array>();
  const band = (k: number) => {
    const found =
      bands.get(k) ??
      binned(
        expectedOf(rig, grid.modes[k]!, trials, { direction, grid, requests: ledger.requests }),
        width,
        bins,
      );
    bands.set(k, found);
    return found;
  };
  const alone = binned(ledger.density, width, bins);
  const fresh = freshBins(priors, count, width, bins, band);
  const spreads = new Map(
    [...new Set(binOf)].map((bin) => {
      const known = bin > bins ? band(bin - bins - 1) : onlyAt(bin, bins);
      return [bin, smoothed(lowest(known, alone, fresh, bins))];
    }),
  );
  return { bins, width, binOf, spreads };
}

function binned(density: Float64Array, width: number, bins: number): Float64Array {
  const sums = new Float64Array(bins);
  density.forEach((value, i) => (sums[Math.floor(i / width)]! += value));
  return sums;
}

/** The probability that some site which was never seen is the limit in each bin; the rest carries all. */
function freshBins(
  priors: readonly Pick<SitePrior, "odds" | "density">[],
  count: number,
  width: number,
  bins: number,
  bandOf: (mode: number) => Float64Array,
): Float64Array {
  const sums = new Float64Array(bins);
  for (const { odds, density } of priors) {
    const chance = odds / (1 + odds);
    density.forEach((value, i) => {
      if (value === 0) return;
      if (i < count) sums[Math.floor(i / width)]! += chance * value;
      else bandOf(i - count).forEach((part, bin) => (sums[bin]! += chance * value * part));
    });
  }
  return sums;
}

/** A limit that is known to lie in one bin, or in none. */
function onlyAt(bin: number, bins: number): Float64Array {
  const sums = new Float64Array(bins);
  if (bin < bins) sums[bin] = 1;
  return sums;
}

/** The distribution of the least of a limit that is known, the ledger's, and what was never seen. */
function lowest(
  known: Float64Array,
  ledger: Float64Array,
  fresh: Float64Array,
  bins: number,
): Float64Array {
  const result = new Float64Array(bins);
  const above = [known, ledger, fresh].map((sums) => ({ sums, left: 1 }));
  let reaching = 1;
  for (let i = 0; i < bins; i++) {
    let next = 1;
    for (const one of above) next *= one.left = Math.max(0, one.left - one.sums[i]!);
    result[i] = reaching - next;
    reaching = next;
  }
  return result;
}

/** Noise carries some of each outcome over to its neighbours. */
function smoothed(values: Float64Array): Float64Array {
  return values.map(
    (value, i) => 0.6 * value + 0.2 * (values[i - 1] ?? value) + 0.2 * (values[i + 1] ?? value),
  );
}
