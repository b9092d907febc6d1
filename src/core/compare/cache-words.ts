import { cacheAt, type CacheFit } from "../cache/fit";
import { jobSeconds } from "../cache/job";
import { restAfter } from "../cache/recovery";
import { formatAbout, formatPercent } from "../units/number";
import { formatSize } from "../units/size";
import type { CacheFill, CacheShown } from "./caches";

/** Less than this is not told apart from nothing, as a share. */
const LEAST = 0.001;

const size = (bytes: number) => formatSize(Number(bytes.toPrecision(3)), 1000);

/** What the fills of a drive say of its cache, in a sentence. */
export function tellCache({ drive, fills, fit }: CacheShown): string {
  const [most] = fills;
  if (!most) return `The cache of ${drive} was not filled at a known level.`;
  const least = fills.at(-1)!;
  if (!fills.some(({ edge }) => edge))
    return `No fill of ${drive} met the end of a cache: ${size(most.cacheBytes)} went at full rate.`;
  if (!fit)
    return `The end of a cache of ${drive} was met at one fill level only. Fill the drive at another level, too.`;
  if (!followsSpace(fit))
    return `The cache of ${drive} holds ${size(cacheAt(fit, most.freeBytes))} at every fill level.`;
  return `The cache of ${drive} holds ${heldAt(most, fit)}, and ${heldAt(least, fit)}.`;
}

/** "306 GB with 1 TB free": as it was met there, or by the line where no end was met. */
const heldAt = ({ edge, cacheBytes, freeBytes }: CacheFill, fit: CacheFit): string =>
  `${size(edge ? cacheBytes : cacheAt(fit, freeBytes))} with ${size(freeBytes)} free`;

/** Whether a cache follows the free space: its share is beyond what the scatter of the fills makes. */
export const followsSpace = ({ share, interval }: CacheFit): boolean =>
  interval === null ? Math.abs(share) > LEAST_SHARE : interval.low > 0 && share > LEAST_SHARE;

/** A cache that takes less than a hundredth of what becomes free is of one size for all that a tester does. */
const LEAST_SHARE = 0.01;

/** The line through the fills, in words: fixed part, share of the free space, floor. */
export function tellFit(fit: CacheFit): string {
  const { fixedBytes, share, interval, floorBytes, worst } = fit;
  const sign = fixedBytes < 0 ? "less" : "plus";
  const certain = interval
    ? ` (95 %: ${formatPercent(interval.low)} to ${formatPercent(interval.high)})`
    : "";
  const floor =
    floorBytes === null ? "No floor was reached" : `Never less than ${size(floorBytes)}, the floor`;
  return `The line through the fills: ${formatPercent(share)} of the free space${certain}, ${sign} ${size(Math.abs(fixedBytes))}. ${floor}. No fill lies further from the line than ${formatPercent(Math.max(worst, LEAST))} of the largest cache.`;
}

/** How long a job takes at the level of a fill, seconds; null where the fill met no edge and the job is larger. */
export function jobAt(
  bytes: number,
  { cacheBytes, edge, fullMBps, afterMBps }: CacheFill,
): number | null {
  if (!edge && bytes > cacheBytes) return null;
  const seconds = jobSeconds(bytes, { cacheBytes, fullMBps, afterMBps: afterMBps ?? 0 });
  // A fill from a file may say that nothing moved.
  return Number.isFinite(seconds) ? seconds : null;
}

/** "After 200 GB give the drive 4 minutes of rest": what a job asks for before the next one. */
export function tellRest({ recovery, fills, drive }: CacheShown, bytes: number): string | null {
  if (!recovery) return null;
  const cache = Math.max(0, ...fills.map(({ cacheBytes }) => cacheBytes));
  const seconds = restAfter(bytes, cache > 0 ? cache : bytes, recovery);
  const rate = `${size(recovery.bytesPerSecond)} a second`;
  return `After ${size(bytes)} give ${drive} about ${formatAbout(seconds)} of rest: the cache comes back at ${rate}.`;
}
