import type { Direction } from "../../units/rate";
import { sharesOf, type Shares } from "./fault-set";
import type { Bench } from "./orderings";
import { gridOver, type Grid } from "../likelihood/grid";
import type { LedgerCapacity } from "../likelihood/ledger-capacity";
import { USUAL_OPINION, type Opinion } from "../hypotheses/opinion";
import { priorOf } from "./prior";
import { likelySets } from "./search";
import type { Signature } from "../observations/signs/sign";
import { pairingsIn, sitesOf, type Site } from "../hypotheses/site";
import { withSlowerModes } from "../likelihood/slower-modes";
import { trialsOf } from "../likelihood/trials";
import type { Trial } from "../likelihood/trial";
import type { SetUpObservation } from "../observations/observation";

/** What is known of a bench in one direction and kind of drill, from all that was seen. */
export interface Posterior {
  /** What was believed before anything was seen. */
  opinion: Opinion;
  /** What was seen beside rates. */
  signatures: readonly Signature[];
  direction: Direction;
  grid: Grid;
  sites: readonly Site[];
  bench: Bench;
  trials: readonly Trial[];
  /** What was faster than its rig's ledger allows: it shows nothing of any part. */
  tooFast: readonly Trial[];
  /** Sets of faults with their probability, and who holds each trial back under each. */
  sets: { sites: readonly number[]; probability: number; shares: Shares[] }[];
}

/** Sets less likely than this change no probability that is shown. */
const WORTH = 2e-4;

/** Posteriors of late by all that they rest on: whatever else is written, they stay as they are. */
const lately = new Map<string, Posterior | null>();
const MOST_KEPT = 96;

/**
 * The posterior of a bench, given what was seen of several rigs in one direction by one kind of drill.
 *
 * @returns null where no rig's links come up
 */
export function posteriorOf(
  seen: readonly SetUpObservation[],
  direction: Direction,
  opinion: Opinion = USUAL_OPINION,
  signatures: readonly Signature[] = [],
): Posterior | null {
  const key = JSON.stringify([
    seen.map(({ rig, drill, rates, states }) => [rig, drill, rates, states]),
    direction,
    opinion.priors,
    signatures,
  ]);
  const known = lately.get(key);
  const posterior = known === undefined ? workedOut(seen, direction, opinion, signatures) : known;
  lately.delete(key);
  lately.set(key, posterior);
  if (lately.size > MOST_KEPT) lately.delete(lately.keys().next().value!);
  return posterior && asSeen(posterior, seen);
}

/** A posterior with the rigs and runs it is asked for in place of those alike that it was worked out for. */
function asSeen(posterior: Posterior, seen: readonly SetUpObservation[]): Posterior {
  const same = (trial: Trial): Trial => ({ ...trial, ...seen[trial.at]! });
  const trials = posterior.trials.map(same);
  return {
    ...posterior,
    trials,
    tooFast: posterior.tooFast.map(same),
    bench: { ...posterior.bench, trials },
  };
}

function workedOut(
  seen: readonly SetUpObservation[],
  direction: Direction,
  opinion: Opinion,
  signatures: readonly Signature[],
): Posterior | null {
  const rates = seen.flatMap((one) => one.rates).filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const rough = gridOver(Math.min(...rates) * 0.6, Math.max(...rates, 1) * 2);
  const ledgers = trialsOf(seen, direction, rough).map(({ ledger }) => ledger);
  if (ledgers.length === 0) return null;
  const plain = gridOver(
    Math.min(...rates.map((rate) => rate * 0.6), ...ledgers.map(({ least }) => least * 0.8)),
    Math.max(...rates, ...ledgers.map((one) => one.most)) * 1.2,
  );
  const parts = new Set(seen.flatMap(({ rig }) => sitesOf(rig)).flatMap((site) => site.parts));
  const grid = withSlowerModes(plain, [...parts], direction, widestOf(ledgers));
  const all = trialsOf(seen, direction, grid, opinion);
  const tooFast = all.filter(isTooFast);
  const trials = all.filter((one) => !tooFast.includes(one));
  const sites = [
    ...new Map(trials.flatMap((one) => one.sites).map((site) => [site.key, site])).values(),
  ].toSorted((a, b) => (a.key < b.key ? -1 : 1));
  const number = new Map(sites.map(({ key }, i) => [key, i]));
  const standsIn = trials.map((one) => new Set(one.sites.map(({ key }) => number.get(key)!)));
  const priors = sites.map((site, i) => {
    // What lies in the band that good hardware attains is as designed, whosever share it is.
    const here = trials.filter((_, t) => standsIn[t]!.has(i)).map(({ ledger }) => ledger);
    const pairings = Math.max(
      ...trials.flatMap((one, t) => (standsIn[t]!.has(i) ? [pairingsIn(one.sites)] : [])),
    );
    return priorOf(site, direction, widestOf(here), grid, { opinion, signatures, pairings });
  });
  const bench: Bench = { grid, trials, priors, standsIn };
  const sets = likelySets(bench)
    .filter(({ probability }) => probability > WORTH)
    .map((set) => ({ ...set, shares: sharesOf(bench, set.sites) }));
  return { opinion, signatures, direction, grid, sites, bench, trials, tooFast, sets };
}

/** The ledger of the rig of which good hardware attains most. */
const widestOf = (ledgers: readonly LedgerCapacity[]): LedgerCapacity =>
  ledgers.reduce((a, b) => (b.least > a.least ? b : a));

/** Whether a rate is surely above what nothing honest exceeds. */
const isTooFast = ({ median, ledger, noise }: Trial): boolean =>
  median > ledger.ceiling * (1 + 2.5 * noise);
