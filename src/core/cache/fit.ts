import { linearRegression } from "simple-statistics";
import { studentQuantile } from "../stats/student";

/** A drive's cache at one moment: what was free as a fill began, and how much it took at full rate. Bytes. */
export interface CachePoint {
  freeBytes: number;
  cacheBytes: number;
}

/** How large a drive's cache is by its free space: a fixed part and a share, never below a floor. */
export interface CacheFit {
  fixedBytes: number;
  /** Bytes of cache for each byte that is free. */
  share: number;
  /** 95 % interval of the share; null of fewer than three points. */
  interval: { low: number; high: number } | null;
  /** What is left however full the drive is; null where the points do not come down to one. */
  floorBytes: number | null;
  /** Largest deviation of a point, as a share of the largest cache. */
  worst: number;
}

/** A cache's edge is seen to about a sample: a hundredth of what a fill takes. */
const SEEN_TO = 0.01;
/** Points that lie on a floor: one alone lies on a line as well. */
const LEAST_ON_FLOOR = 2;

/**
 * Fits what drives with a cache of changing size do: part of the free cells are written with one bit each,
 * which take a fixed share of the free space beside a part that is kept for it, and no less than that part.
 * Least squares; a floor is taken where Schwarz's criterion (G. Schwarz, "Estimating the dimension of a
 * model", 1978) speaks for it.
 *
 * @returns null of fewer than two different levels
 */
export function fitCache(points: readonly CachePoint[]): CacheFit | null {
  const sorted = points.toSorted((a, b) => a.freeBytes - b.freeBytes);
  if (levelsOf(sorted) < 2) return null;
  const most = Math.max(...sorted.map(({ cacheBytes }) => cacheBytes));
  if (most <= 0) return null;
  const fits = [fitWith(sorted, 0)];
  for (let onFloor = LEAST_ON_FLOOR; onFloor < sorted.length; onFloor++) {
    // Repeats of one level lie on one side.
    if (levelsOf(sorted.slice(onFloor - 1, onFloor + 1)) < 2) continue;
    if (levelsOf(sorted.slice(onFloor)) < 2) break;
    fits.push(fitWith(sorted, onFloor));
  }
  const cost = (fit: CacheFit) => {
    const squares = sorted.reduce(
      (sum, { freeBytes, cacheBytes }) => sum + (cacheAt(fit, freeBytes) - cacheBytes) ** 2,
      0,
    );
    const variance = squares / sorted.length + (SEEN_TO * most) ** 2;
    const parameters = fit.floorBytes === null ? 2 : 3;
    return sorted.length * Math.log(variance) + parameters * Math.log(sorted.length);
  };
  return fits.reduce((best, fit) => (cost(fit) < cost(best) ? fit : best));
}

/** How large the cache is where so much is free, bytes. */
export const cacheAt = (
  { fixedBytes, share, floorBytes }: Pick<CacheFit, "fixedBytes" | "share" | "floorBytes">,
  freeBytes: number,
): number => Math.max(0, floorBytes ?? 0, fixedBytes + share * freeBytes);

/** Fills whose free space differs by less, as a share of the largest, are of one level. */
const SAME_LEVEL = 0.02;

/** How many levels there are among points, sorted by their free space. */
export function levelsOf(sorted: readonly CachePoint[]): number {
  const least = SAME_LEVEL * (sorted.at(-1)?.freeBytes ?? 0);
  let levels = 0;
  let last = -Infinity;
  for (const { freeBytes } of sorted) {
    if (freeBytes - last <= least) continue;
    last = freeBytes;
    levels += 1;
  }
  return levels;
}

/** @param onFloor how many of the fullest points lie on a floor */
function fitWith(sorted: readonly CachePoint[], onFloor: number): CacheFit {
  const line = sorted.slice(onFloor);
  const { m: share, b: fixedBytes } = linearRegression(
    line.map(({ freeBytes, cacheBytes }) => [freeBytes, cacheBytes]),
  );
  const floorBytes =
    onFloor === 0
      ? null
      : sorted.slice(0, onFloor).reduce((sum, { cacheBytes }) => sum + cacheBytes, 0) / onFloor;
  const fit = { fixedBytes, share, floorBytes };
  const most = Math.max(...sorted.map(({ cacheBytes }) => cacheBytes));
  const worst = Math.max(
    ...sorted.map(({ freeBytes, cacheBytes }) => Math.abs(cacheAt(fit, freeBytes) - cacheBytes)),
  );
  return { ...fit, interval: shareInterval(line, fit), worst: worst / most };
}

/** 95 % interval of a line's slope: Student's t times its standard error. */
function shareInterval(
  line: readonly CachePoint[],
  { fixedBytes, share }: Pick<CacheFit, "fixedBytes" | "share">,
): CacheFit["interval"] {
  const freedom = line.length - 2;
  if (freedom < 1) return null;
  const mean = line.reduce((sum, { freeBytes }) => sum + freeBytes, 0) / line.length;
  const squares = line.reduce(
    (sum, { freeBytes, cacheBytes }) => sum + (fixedBytes + share * freeBytes - cacheBytes) ** 2,
    0,
  );
  const spread = line.reduce((sum, { freeBytes }) => sum + (freeBytes - mean) ** 2, 0);
  const half = studentQuantile(0.975, freedom) * Math.sqrt(squares / freedom / spread);
  return { low: share - half, high: share + half };
}
