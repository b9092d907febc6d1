import { account } from "../ledger/account";
import { modeOf, MODES } from "../ledger/catalogue";
import { modesOn, type Part } from "../chain/part";
import type { Direction } from "../units/rate";
import { placeOf, type Grid } from "./grid";
import { believed, priorsOfPart, USUAL_OPINION, type CauseKind, type Opinion } from "./opinion";
import { factorOf, type Signature } from "./signature";
import type { Site } from "./site";

/** Of a part that does not say what it carries, the limit of its own is likelier by so much. */
const UNSAID = 1.3;

/** What is believed of a site before any run: why it may carry less, and how much then. */
export interface SitePrior {
  /** Odds of carrying less against carrying all. */
  odds: number;
  /** Probability of each limit by place of the grid, were it to carry less; sums to 1. */
  density: Float64Array;
  /** Of each kind of cause its part of the density at each place. */
  kinds: { kind: CauseKind; density: Float64Array }[];
}

/** Pairings of a port, a cable, a box and its drive. */
const USUAL_PAIRINGS = 4;

/** However many signs point at it, no cause is sure before the rates are weighed. */
const MOST_SHARE = 0.4;

/** A limit below a hundredth of what a part could carry is no limit but a defect. */
const LEAST_SHARE = 0.01;

/**
 * The prior of a site.
 *
 * @param signatures what was seen beside rates
 * @param pairings how many a rig has in which it stands: only one of them is likely to work badly
 * @param most the least that good hardware attains where it stands: a limit above that is none, MB/s
 */
export function priorOf(
  site: Site,
  direction: Direction,
  most: number,
  grid: Grid,
  opinion: Opinion = USUAL_OPINION,
  signatures: readonly Signature[] = [],
  pairings = USUAL_PAIRINGS,
): SitePrior {
  const shares = sharesOf(site, direction, opinion, pairings).map(({ kind, share }) => ({
    kind,
    share: Math.min(MOST_SHARE, share * factorOf(signatures, site.key, kind)),
  }));
  const kinds = shares.map(({ kind, share }) => ({
    kind,
    density: scaled(
      kind === "dropped-mode"
        ? droppedModes(site.parts[0]!, direction, most, grid)
        : even(most, grid),
      share,
    ),
  }));
  const total = shares.reduce((sum, { share }) => sum + share, 0);
  const density = new Float64Array(grid.rates.length);
  for (const one of kinds) one.density.forEach((value, i) => (density[i]! += value / total));
  return { odds: total / (1 - total), density, kinds };
}

function sharesOf(
  site: Site,
  direction: Direction,
  opinion: Opinion,
  pairings: number,
): { kind: CauseKind; share: number }[] {
  if (site.kind === "pairing")
    return [{ kind: "pairing", share: believed(opinion, "pairing") / Math.max(1, pairings) }];
  if (site.kind !== "part") {
    const share = believed(opinion, site.usual ? "usual transport" : site.kind);
    return [{ kind: "condition", share }];
  }
  const [part] = site.parts as [Part];
  const saysMost = part.limits[direction] !== undefined;
  return priorsOfPart(part.kind).map(({ key, kind }) => {
    const share = believed(opinion, key);
    return { kind, share: kind === "own-limit" && !saysMost ? share * UNSAID : share };
  });
}

const scaled = (values: Float64Array, by: number) => values.map((value) => value * by);

/**
 * Any limit below what the ledger lets through, none of them likelier than another. What lies below
 * the grid, where no rig was seen, stays out of it.
 */
function even(most: number, { rates, step }: Grid): Float64Array {
  const each = step / -Math.log(LEAST_SHARE);
  const fits = (rate: number) => rate < most && rate > most * LEAST_SHARE;
  return Float64Array.from(rates, (rate) => (fits(rate) ? each : 0));
}

/** The bands of the slower modes of its families; a plain limit where there is none. */
function droppedModes(part: Part, direction: Direction, most: number, grid: Grid): Float64Array {
  // A link falls back within its family, also to a mode that nobody wrote down.
  const own = [...modesOn(part, "up"), ...modesOn(part, "down")].map(modeOf);
  const families = new Set(own.map(({ family }) => family));
  const bands = MODES.filter(({ family }) => families.has(family) && family !== "stated")
    .map((mode) => account(mode, direction))
    .filter(({ hardCeiling }) => hardCeiling < most * 0.97);
  if (bands.length === 0) return even(most, grid);
  const density = new Float64Array(grid.rates.length);
  for (const { attainable, hardCeiling } of bands)
    bandOn(grid, attainable, hardCeiling).forEach(
      (value, i) => (density[i]! += value / bands.length),
    );
  return density;
}

/** Points at which a band is taken onto the grid. */
const POINTS = 80;

/**
 * A band in which good hardware lies, even as far as is known, and falling off beside it. What lies
 * beyond the grid is at its last place; what lies below it, where no rig was seen, is left out.
 *
 * @param ceiling what nothing exceeds, MB/s
 */
export function bandOn(
  grid: Grid,
  { low, high }: { low: number; high: number },
  ceiling: number,
): Float64Array {
  const [from, to] = [Math.log(low * 0.85), Math.log(Math.max(ceiling, high))];
  const density = new Float64Array(grid.rates.length);
  const last = density.length - 1;
  const top = grid.logs.at(-1)! + grid.step / 2;
  const bottom = grid.logs[0]! - grid.step / 2;
  let total = 0;
  for (let k = 0; k < POINTS; k++) {
    const log = from + ((k + 0.5) * (to - from)) / POINTS;
    const rate = Math.exp(log);
    const weight = rate < low ? 0.4 : rate <= high ? 1 : 0.3;
    total += weight;
    if (log > bottom) density[log > top ? last : placeOf(grid, rate)]! += weight;
  }
  return density.map((value) => value / total);
}
