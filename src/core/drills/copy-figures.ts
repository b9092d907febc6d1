import type { Moment } from "../trace/curve";
import { levelsOf } from "../reading/levels";
import type { StepLabel } from "../run/program";
import type { CopyResult, StepResult } from "../run/result";
import { blankStep } from "../run/step";

/** What the two sides of a copy counted. Bytes and milliseconds; null where the system keeps no count. */
export interface CopyCounts {
  files: number;
  read: number;
  written: number;
  ms: number;
  /** Whether there was a source, and a destination, on a drive. */
  reads: boolean;
  writes: boolean;
  waitedForFromMs: number;
  waitedForToMs: number;
  /** Sums over the files (fileTime). */
  fit: readonly number[];
  /** What the systems of both ends read and wrote in that time. */
  fromDeviceBytes: number | null;
  toDeviceBytes: number | null;
}

/**
 * What a copy gave, but for what was done with it afterwards (`verified`, `differing`, `kept`).
 *
 * @param moments of the counted time, in order
 */
export function copyFigures(
  label: StepLabel,
  counts: CopyCounts,
  moments: readonly Moment[],
): StepResult & { copy: CopyResult } {
  const { files, written, read, ms, reads, writes, fromDeviceBytes, toDeviceBytes } = counts;
  const file = fileTime(counts.fit);
  const levels = levelsOf(moments);
  return {
    ...blankStep("copy", label),
    meanMBps: ms > 0 ? written / 1e3 / ms : 0,
    bytes: written,
    written: writes ? written : 0,
    ms,
    requests: files,
    deviceBytes: writes ? toDeviceBytes : fromDeviceBytes,
    burstMBps: levels.burst,
    sustainedMBps: levels.sustained,
    edgeBytes: levels.edgeBytes,
    copy: {
      files,
      waitedForFromMs: reads ? counts.waitedForFromMs : 0,
      waitedForToMs: writes ? counts.waitedForToMs : 0,
      perFileMs: file?.perFileMs ?? null,
      perByteMBps: file?.mbps ?? null,
      fromMemory:
        reads && fromDeviceBytes !== null && read > 0
          ? Math.min(1, Math.max(0, 1 - fromDeviceBytes / read))
          : null,
      verified: 0,
      differing: [],
      kept: null,
    },
  };
}

/** The sums that `fileTime` takes, of one file: files, bytes, bytes squared, milliseconds, both multiplied. */
export const fileTerms = (bytes: number, ms: number): number[] => [
  1,
  bytes,
  bytes * bytes,
  ms,
  bytes * ms,
];

/**
 * Fits the time of a file to its size, t = a + b/R, of sums and without keeping the files. Plain least
 * squares: what it says of all files together is the time that they took.
 *
 * @param sums of `fileTerms` over all files
 * @returns milliseconds a file, and MB/s beside them; null where the files are all of about one size, or
 *   larger ones took no longer
 */
export function fileTime(sums: readonly number[]): { perFileMs: number; mbps: number } | null {
  const [n = 0, sb = 0, sbb = 0, st = 0, sbt = 0] = sums;
  const spread = n * sbb - sb * sb;
  if (!(spread > 1e-6 * n * sbb)) return null;
  const slope = (n * sbt - sb * st) / spread;
  const perFile = (st - slope * sb) / n;
  if (!(slope > 0)) return null;
  // Where bytes explain more than all of the time, files cost nothing beside them.
  return perFile >= 0
    ? { perFileMs: perFile, mbps: 1 / slope / 1e3 }
    : { perFileMs: 0, mbps: sb / st / 1e3 };
}
