import { blankStep } from "../run/step";
import type { StudyFileInput } from "../exchange/study-file";

/** Fills of a drive of 1 TB, as a study's file holds them, for tests only. */

type RunInput = NonNullable<StudyFileInput["runs"]>[number];

const TOTAL = 1e12;
const FULL_MBPS = 900;
const AFTER_MBPS = 120;

/** A step that wrote so much; null: it met no end of a cache. */
const fill = (bytes: number, edgeBytes: number | null, restSeconds?: number) => ({
  ...blankStep("flow", restSeconds === undefined ? {} : { restSeconds }),
  meanMBps: edgeBytes === null ? FULL_MBPS : 300,
  bytes,
  written: bytes,
  ms: 60_000,
  requests: 1000,
  burstMBps: FULL_MBPS,
  sustainedMBps: edgeBytes === null ? FULL_MBPS : AFTER_MBPS,
  edgeBytes,
});

const run = (steps: ReturnType<typeof fill>[]) => ({
  status: "done" as const,
  startedAt: "2026-03-01T10:00:00.000Z",
  steps,
  samples: [],
});

/** A Long fill that began at a fill level kept by ballast. @param edgeBytes null: none was met */
export const filledAt = (rigId: string, level: number, edgeBytes: number | null): RunInput => ({
  rigId,
  drill: { name: "long-fill", direction: "write" },
  conditions: {
    io: "direct",
    freeBytes: TOTAL * (1 - level),
    totalBytes: TOTAL,
    ...(level > 0 ? { ballast: { bytes: TOTAL * level, level } } : {}),
  },
  runs: [run([fill(0.9 * TOTAL * (1 - level), edgeBytes)])],
});

/** A Rest and return: the first fill to the edge, then one after each rest. @param back bytes after a second of rest */
export const restedFor = (
  rigId: string,
  edgeBytes: number,
  back: number,
  rests: readonly number[],
): RunInput => ({
  rigId,
  drill: { name: "rest-and-return", direction: "write" },
  runs: [
    run([
      fill(1.5 * edgeBytes, edgeBytes, 0),
      ...rests.map((seconds) =>
        fill(1.5 * edgeBytes, Math.min(edgeBytes, back * seconds), seconds),
      ),
    ]),
  ],
});
