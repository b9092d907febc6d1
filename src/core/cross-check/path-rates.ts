import { drillNamed, ladderBy } from "../drills/catalogue";
import { answeringOf } from "../replay/answering";
import type { Answering } from "../replay/predict";
import type { Observation } from "../study/measurement";
import { MB, type Direction } from "../units/rate";
import type { StatedFigure } from "./stated-figure";

/** How a program asks: what a rate follows from. */
export type Asking = Pick<StatedFigure, "block" | "depth" | "isRandom">;

/** What a rig gives in one direction, however it is asked. */
export interface PathRates extends Answering {
  /** The most that it gave in one stretch with large requests, MB/s. */
  mostMBps: number;
  /** What a request takes more at a random place, microseconds; null where no ladder tells. */
  randomUs: number | null;
}

/**
 * What the ladders of a rig say of it.
 *
 * @param seen of the rig, the latest first
 * @returns null where no ladder by block was done that way, or none could be fitted
 */
export function pathRatesOf(seen: readonly Observation[], direction: Direction): PathRates | null {
  const answering = answeringOf(seen)[direction];
  if (!answering) return null;
  const own = seen.filter(({ drill, doubtful }) => drill.direction === direction && !doubtful);
  const inARow = own.filter(({ drill }) => {
    const { shows, targets } = drillNamed(drill.name);
    return targets === "one" && shows.includes("peak");
  });
  return {
    ...answering,
    mostMBps: Math.max(answering.mbps, ...inARow.map(({ repeats }) => repeats.median)),
    randomUs: randomOf(own, answering),
  };
}

/** By how much the first step of a ladder by depth, at random places, is slower than its block is in a row. */
function randomOf(own: readonly Observation[], path: Answering): number | null {
  const { name } = ladderBy("depth");
  const ladder = own.find(({ drill }) => drill.name === name);
  const fit = ladder?.results.findLast(({ fit }) => fit?.by === "depth")?.fit;
  const block = ladder?.drill.block;
  if (fit?.by !== "depth" || typeof block !== "number" || !(fit.singleIops > 0)) return null;
  return Math.max(0, 1e6 / fit.singleIops - requestUs(path, block));
}

/** What one request takes by itself, microseconds (docs/model.md, 3). */
const requestUs = ({ overheadUs, mbps }: Answering, block: number): number =>
  overheadUs + (block / MB / mbps) * 1e6;

/**
 * What a rig gives where it is asked in some way: as many requests as are in flight in the time of one, and no
 * more than its bytes or its requests a second allow (docs/model.md, 3).
 *
 * @returns MB/s; null for random places of which no ladder tells
 */
export function rateWhenAsked(path: PathRates, { block, depth, isRandom }: Asking): number | null {
  if (isRandom && path.randomUs === null) return null;
  const each = requestUs(path, block) + (isRandom ? path.randomUs! : 0);
  const inFlight = (depth * block) / MB / (each / 1e6);
  const byRequests = path.mostIops === null ? Infinity : (path.mostIops * block) / MB;
  return Math.min(inFlight, path.mostMBps, byRequests);
}
