import { linksOf, otherLinks, transportOn } from "../../chain/link";
import { modesOn, type Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { account } from "../../ledger/account";
import { modeOf, MODES } from "../../ledger/catalogue";
import type { LinkMode } from "../../ledger/mode";
import type { Direction } from "../../units/rate";
import { bandOn, foreseenOn } from "./band";
import { withModes, type Grid } from "./grid";
import type { LedgerCapacity } from "./ledger-capacity";
import { rateAt, VAGUE, type Requests } from "../observations/requests";
import { TAILS, type Trial } from "./trial";

/** A mode whose ceiling is this close to what a link attains anyway is no slower one. */
const SLOWER = 0.97;

/**
 * The modes that a part may fall back to: those of its families, also such that nobody wrote down.
 *
 * @param ledger of where it stands
 */
export function slowerModes(
  part: Part,
  direction: Direction,
  { least, requests }: Pick<LedgerCapacity, "least" | "requests">,
): LinkMode[] {
  const own = [...modesOn(part, "up"), ...modesOn(part, "down")].map(modeOf);
  const families = new Set(own.map(({ family }) => family));
  return MODES.filter(
    (mode) =>
      families.has(mode.family) &&
      mode.family !== "stated" &&
      (requests
        ? rateAt(requests, USUALLY, mode, direction)
        : account(mode, direction).hardCeiling) <
        least * SLOWER,
  );
}

/** A link that falls back runs what it does by itself. */
const USUALLY = { transport: null };

/**
 * What a mode lets through of the links of a rig, by place of the grid's rates. Less than that is no
 * mode's doing: here is no leeway below the band, as a ledger's own link is given.
 */
export function bandOf(
  rig: Rig,
  mode: LinkMode,
  direction: Direction,
  grid: Grid,
  requests: Requests | null,
): Float64Array {
  if (requests) {
    const mbps = rateAt(requests, rig, mode, direction);
    return foreseenOn(grid, mbps, VAGUE / 2, VAGUE);
  }
  const { attainable, hardCeiling } = account(mode, direction, {
    transport: transportOn(rig, { mode }),
  });
  return bandOn(grid, attainable, hardCeiling, 0);
}

/**
 * A grid with a place for each mode that some part may fall back to and that may give what was seen.
 *
 * @param ledger of the rig in which most is attained
 */
export function withSlowerModes(
  grid: Grid,
  parts: readonly Part[],
  direction: Direction,
  ledger: Pick<LedgerCapacity, "least" | "requests">,
): Grid {
  const all = new Set(parts.flatMap((part) => slowerModes(part, direction, ledger)));
  const tops = [...all].map((mode) =>
    ledger.requests
      ? rateAt(ledger.requests, USUALLY, mode, direction)
      : account(mode, direction).attainable.high,
  );
  const within = [...all].filter((_, i) => tops[i]! > grid.rates[0]!);
  return withModes(
    grid,
    within,
    tops.filter((top) => top > grid.rates[0]!),
  );
}

/** Of what the same ends got out of a mode, how much counts for the next run through them. */
const KEPT = 0.8;

/**
 * How likely what was seen is, were a link held at each of the slower modes of the grid: each pair of
 * ends gets its own rate out of a mode, somewhere in its band, and the same one again. Written to the
 * places that the modes have.
 *
 * @param trials of one drill in one direction, all on one grid
 */
export function weighModes(
  trials: readonly Omit<Trial, "top">[],
  direction: Direction,
  grid: Grid,
): void {
  // The order of runs must not matter: where some have the same ends they come by their rates.
  const order = trials.toSorted((a, b) => a.median - b.median || a.rates.length - b.rates.length);
  const closely = order.map((trial) => limitedClosely(trial, grid));
  grid.modes.forEach((mode, k) => {
    const place = grid.rates.length + k;
    const known = new Map<string, Float64Array>();
    order.forEach((trial, t) => {
      const band = bandOf(trial.rig, mode, direction, grid, trial.ledger.requests);
      const key = endsOf(trial.rig, mode);
      const before = known.get(key);
      const chances = before
        ? band.map((value, i) => KEPT * before[i]! + (1 - KEPT) * value)
        : band;
      for (const values of [...trial.asDesigned, trial.odd]) values[place] = sumOf(chances, values);
      trial.limited[place] = sumOf(chances, closely[t]!);
      trial.likelihood[place] = [...trial.asDesigned, trial.odd, trial.limited].reduce(
        (sum, values) => sum + values[place]!,
        0,
      );
      const told = (before ?? band).map((value, i) => value * trial.likelihood[i]!);
      const total = told.reduce((sum, value) => sum + value, 0);
      known.set(key, total > 0 ? told.map((value) => value / total) : band);
    });
  });
}

/**
 * How likely a trial is as far as the limit at each rate is what holds it back, with noise that has no
 * heavy tails. Were an odd run let pass for a mode's that does not give such a rate, a run that shows
 * a part carrying more than that would raise its guilt.
 */
function limitedClosely({ limited, median, noise }: Omit<Trial, "top">, grid: Grid): Float64Array {
  return limited.map((value, i) => {
    if (i >= grid.logs.length) return 0;
    const off = (Math.log(median) - grid.logs[i]!) / noise;
    return value * (Math.exp(-0.5 * off * off) / (1 + (off * off) / TAILS) ** (-(TAILS + 1) / 2));
  });
}

function sumOf(chances: Float64Array, values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < chances.length; i++) sum += chances[i]! * values[i]!;
  return sum;
}

/** What stands on the links of a mode's family in a rig: the same ends get the same out of it. */
function endsOf(rig: Rig, mode: LinkMode): string {
  const known = endsIn.get(rig) ?? new Map<LinkMode, string>();
  endsIn.set(rig, known);
  const found = known.get(mode) ?? makeEnds(rig, mode);
  known.set(mode, found);
  return found;
}

/** Worked out once for each rig. */
const endsIn = new WeakMap<Rig, Map<LinkMode, string>>();

function makeEnds(rig: Rig, mode: LinkMode): string {
  const ends = [...linksOf(rig), ...otherLinks(rig)]
    .filter((link) => link.mode?.family === mode.family)
    .map(({ upper, cables, lower }) => [upper, ...cables, lower].map(({ id }) => id));
  return JSON.stringify(ends);
}

/** What a rig would give at a slower mode, by place of the grid's rates, with what its ends gave before. */
export function expectedOf(
  rig: Rig,
  mode: LinkMode,
  trials: readonly Trial[],
  { direction, grid, requests }: { direction: Direction; grid: Grid; requests: Requests | null },
): Float64Array {
  const ends = endsOf(rig, mode);
  const band = bandOf(rig, mode, direction, grid, requests);
  const alike = trials.filter((trial) => endsOf(trial.rig, mode) === ends);
  if (alike.length === 0) return band;
  const told = band.slice();
  for (const trial of alike)
    for (let i = 0; i < told.length; i++) told[i]! *= trial.likelihood[i]! / trial.top;
  const total = told.reduce((sum, value) => sum + value, 0);
  return total > 0 ? band.map((value, i) => (KEPT * told[i]!) / total + (1 - KEPT) * value) : band;
}
