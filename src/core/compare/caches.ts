import { letterOf } from "../answer/lettered-rig";
import type { Rig } from "../chain/rig";
import { kindOf } from "../drills/drill";
import type { BriefResult } from "../run/brief";
import { counts, isSetUpOf, type BriefMeasurement } from "../study/measurement";
import { fitCache, levelsOf, type CacheFit } from "../cache/fit";
import { recoveryOf, type Recovery, type Rested } from "../cache/recovery";

/** One sustained fill of a drive, with what was free as it began. */
export interface CacheFill {
  letter: string;
  rigId: string;
  runId: string;
  freeBytes: number;
  /** The fill level that ballast kept; null where there was none. */
  level: number | null;
  /** What was written before the rate fell for good; all that was written where it did not. */
  cacheBytes: number;
  /** Whether an edge was met: else the cache is at least so large. */
  edge: boolean;
  /** Up to the edge, and past it, MB/s; null past it where there was none. */
  fullMBps: number;
  afterMBps: number | null;
}

/** What is known of one drive's cache. */
export interface CacheShown {
  driveId: string;
  drive: string;
  /** The most free space first. */
  fills: CacheFill[];
  /** Null where edges were met at fewer than two levels. */
  fit: CacheFit | null;
  /** How fast the cache comes back; null where nothing told. */
  recovery: Recovery | null;
}

/** Which rigs are looked at; null: all. */
export interface Asked {
  rigs: readonly string[] | null;
  drive: string | null;
}

/**
 * What sustained fills show of each drive's cache: its size by the free space, and how fast it comes back.
 * A drive that was filled at one level only, and never rested, is left out: its trace says all there is.
 *
 * @param rigs of the study as they stand
 */
export function cachesShown(
  measurements: readonly BriefMeasurement[],
  rigs: readonly Rig[],
  asked: Asked,
): CacheShown[] {
  const drives = new Map<string, { name: string; fills: CacheFill[]; rested: Fill[] }>();
  for (const [at, rig] of rigs.entries()) {
    const drive = rig.parts.at(-1);
    if (!drive || (asked.rigs !== null && !asked.rigs.includes(rig.id))) continue;
    if (asked.drive !== null && drive.id !== asked.drive) continue;
    const known = drives.get(drive.id) ?? { name: drive.name, fills: [], rested: [] };
    drives.set(drive.id, known);
    for (const one of measurements) {
      if (one.warmUp || !isSetUpOf(one.rig, rig)) continue;
      known.fills.push(...fillsOf(one, rig.id, letterOf(at)));
      known.rested.push(...restedOf(one));
    }
  }
  return [...drives].flatMap(([driveId, { name, fills, rested }]): CacheShown[] => {
    const sorted = fills.toSorted((a, b) => b.freeBytes - a.freeBytes);
    const recovery = recoveryFrom(rested);
    if (levelsOf(sorted.toReversed()) < 2 && recovery === null) return [];
    const fit = fitCache(sorted.filter(({ edge }) => edge));
    return [{ driveId, drive: name, fills: sorted, fit, recovery }];
  });
}

function fillsOf(
  { drill, conditions, runs }: BriefMeasurement,
  rigId: string,
  letter: string,
): CacheFill[] {
  if (!kindOf(drill).shows.includes("sustained") || drill.direction !== "write") return [];
  const freeBytes = conditions?.freeBytes ?? null;
  if (freeBytes === null) return [];
  return runs.filter(counts).flatMap(({ id, result }) => {
    const first = result?.first;
    if (!result || !first) return [];
    const edge = first.edgeBytes !== null;
    return [
      {
        letter,
        rigId,
        runId: id,
        freeBytes,
        level: conditions?.ballast?.level ?? null,
        cacheBytes: first.edgeBytes ?? result.bytes,
        edge,
        fullMBps: first.burstMBps,
        afterMBps: edge ? first.sustainedMBps : null,
      },
    ];
  });
}

interface Fill {
  first: number;
  rests: Rested[];
}

/** Fills after rests, each series with what its first fill took. */
const restedOf = ({ runs }: BriefMeasurement): Fill[] =>
  runs.filter(counts).flatMap(({ result }) => {
    const first = result?.first?.edgeBytes ?? null;
    return first !== null && result?.rested ? [{ first, rests: restsIn(result) }] : [];
  });

const restsIn = ({ rested = [] }: BriefResult): Rested[] =>
  rested.map(({ restSeconds, bytes, edgeBytes }) => ({
    restSeconds,
    backBytes: edgeBytes ?? bytes,
    whole: edgeBytes === null,
  }));

/** Over all series, the slowest: who rests as long as it says has rested long enough. */
function recoveryFrom(series: readonly Fill[]): Recovery | null {
  const found = series.flatMap(({ first, rests }) => recoveryOf(first, rests) ?? []);
  if (found.length === 0) return null;
  return found.reduce((slow, one) => (one.bytesPerSecond < slow.bytesPerSecond ? one : slow));
}
