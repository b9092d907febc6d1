import type { Part } from "../../chain/part";
import type { Direction } from "../../units/rate";
import type { LinkMode } from "../../ledger/mode";
import type { LedgerCapacity } from "../likelihood/ledger-capacity";
import type { Grid } from "../likelihood/grid";
import {
  priorShare,
  priorsOfPart,
  USUAL_OPINION,
  type CauseKind,
  type Opinion,
  type PriorKey,
} from "../hypotheses/opinion";
import { LARGE } from "../observations/requests";
import { factorOf, type Signature } from "../observations/signs/sign";
import type { Site } from "../hypotheses/site";
import { slowerModes } from "../likelihood/slower-modes";

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

/**
 * Of small requests pairs are so much rarer: their times add up, part by part, and what two parts do badly
 * together, a slower mode or frames sent again, costs large requests most.
 */
const FEWER_PAIRS = 0.1;

/** However many signs point at it, no cause is sure before the rates are weighed. */
const MOST_SHARE = 0.4;

/**
 * The longest that a drive in order takes for one request, microseconds: a small disk's longest seek
 * and a turn, some 10 ms each. Of many in flight it may put the order right, and takes no longer.
 */
const SLOWEST_US = 20_000;

/** A limit below a hundredth of what a part could carry is no limit but a defect. */
const LEAST_SHARE = 0.01;

/**
 * The prior of a site.
 *
 * @param signatures what was seen beside rates
 * @param pairings how many a rig has in which it stands: only one of them is likely to work badly
 * @param ledger of where it stands: a limit above the least that good hardware attains is none
 */
export function priorOf(
  site: Site,
  direction: Direction,
  ledger: Pick<LedgerCapacity, "least" | "requests" | "fills">,
  grid: Grid,
  {
    opinion = USUAL_OPINION,
    signatures = [],
    pairings = USUAL_PAIRINGS,
  }: { opinion?: Opinion; signatures?: readonly Signature[]; pairings?: number } = {},
): SitePrior {
  const slow = slowRequests(site, direction, ledger, grid);
  const known = slow ? "request time" : ledger.fills ? "sustained writing" : null;
  const small = ledger.requests !== null && ledger.requests.block < LARGE;
  const pairs = small ? pairings / FEWER_PAIRS : pairings;
  const shares = sharesOf(site, direction, opinion, pairs, known).map(({ kind, share }) => ({
    kind,
    share: Math.min(MOST_SHARE, share * factorOf(signatures, site.key, kind)),
  }));
  const kinds = shares.map(({ kind, share }) => ({
    kind,
    density: scaled(
      kind === "dropped-mode"
        ? droppedModes(site.parts[0]!, direction, ledger, grid)
        : kind === "own-limit" && slow
          ? slow
          : below(ledger, grid),
      share,
    ),
  }));
  const total = shares.reduce((sum, { share }) => sum + share, 0);
  const density = new Float64Array(grid.order.length);
  for (const one of kinds) one.density.forEach((value, i) => (density[i]! += value / total));
  return { odds: total / (1 - total), density, kinds };
}

function sharesOf(
  site: Site,
  direction: Direction,
  opinion: Opinion,
  pairings: number,
  usual: PriorKey | null,
): { kind: CauseKind; share: number }[] {
  if (site.kind === "pairing")
    return [{ kind: "pairing", share: priorShare(opinion, "pairing") / Math.max(1, pairings) }];
  if (site.kind !== "part") {
    const share = priorShare(opinion, site.usual ? "usual transport" : site.kind);
    return [{ kind: "condition", share }];
  }
  const [part] = site.parts as [Part];
  const saysMost = part.limits[direction] !== undefined;
  return priorsOfPart(part.kind).map(({ key, kind }) => {
    const own = kind === "own-limit";
    if (own && usual && part.kind === "drive") return { kind, share: priorShare(opinion, usual) };
    const share = priorShare(opinion, key);
    return { kind, share: own && !saysMost ? share * UNSAID : share };
  });
}

const scaled = (values: Float64Array, by: number) => values.map((value) => value * by);

/**
 * Any limit below what the ledger lets through, down to where there is none: the further below, the
 * rarer; where the ledger is vague itself, none likelier than another. What lies below the grid, where
 * no rig was seen, stays out of it.
 */
function below(
  { least: most, requests }: Pick<LedgerCapacity, "least" | "requests">,
  { rates, step, order }: Grid,
): Float64Array {
  const width = -Math.log(LEAST_SHARE);
  const density = new Float64Array(order.length);
  rates.forEach((rate, i) => {
    const depth = Math.log(most / rate) / width;
    if (depth > 0 && depth < 1) density[i] = ((requests ? 1 : 2 * (1 - depth)) * step) / width;
  });
  return density;
}

/**
 * What a drive that does not say how long a small request takes it gives of them: any time as likely as
 * another, from none that counts to that of a disk which has to seek and to turn.
 *
 * @returns null where that is no question: of other parts, and of large requests
 */
function slowRequests(
  { kind, parts: [part] }: Site,
  direction: Direction,
  { least, requests }: Pick<LedgerCapacity, "least" | "requests">,
  { rates, step, order }: Grid,
): Float64Array | null {
  if (kind !== "part" || part?.kind !== "drive" || part.requestUs[direction] !== undefined)
    return null;
  if (!requests || requests.block >= LARGE) return null;
  const slowest = requests.block / SLOWEST_US;
  if (slowest >= least) return null;
  const width = Math.log(least / slowest);
  const density = new Float64Array(order.length);
  rates.forEach((rate, i) => {
    if (rate >= slowest && rate < least) density[i] = step / width;
  });
  return density;
}

/**
 * Of small requests, whose rate says little of the mode, falling back to the modes below high speed is
 * believed in less: that happens only where a link's chirp is not answered (USB 2.0, 7.1.7.5).
 */
const BELOW_HIGH_SPEED = 0.1;
const HIGH_SPEED = 0.48;

/** Each slower mode of its families, most as likely as another; a plain limit where there is none. */
function droppedModes(
  part: Part,
  direction: Direction,
  ledger: Pick<LedgerCapacity, "least" | "requests">,
  grid: Grid,
): Float64Array {
  const modes = slowerModes(part, direction, ledger);
  if (modes.length === 0) return below({ ...ledger, requests: null }, grid);
  const weight = ({ family, gigatransfers }: LinkMode) =>
    ledger.requests && family === "usb" && gigatransfers < HIGH_SPEED ? BELOW_HIGH_SPEED : 1;
  const total = modes.reduce((sum, mode) => sum + weight(mode), 0);
  const density = new Float64Array(grid.order.length);
  for (const mode of modes) {
    const k = grid.modes.indexOf(mode);
    // What lies below the grid, where no rig was seen, has no place on it.
    if (k >= 0) density[grid.rates.length + k] = weight(mode) / total;
  }
  return density;
}
