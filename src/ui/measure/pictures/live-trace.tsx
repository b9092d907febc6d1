"use client";

import type { Sample } from "@/core/run/result";
import { thinned } from "@/core/trace/thin";
import { LiveLines, type LiveLine } from "../../charts/live-lines";

/** The trace of a run that is going on; at its end the chart takes its place. */
export function LiveTrace({
  samples,
  ceiling,
  ceilingName,
  seconds,
}: {
  samples: readonly Sample[];
  /** MB/s; null where none is known. */
  ceiling: number | null;
  ceilingName: string;
  /** How long it takes, where that is known; null: as long as it took so far. */
  seconds: number | null;
}) {
  const points = pointsOf(samples);
  return (
    <LiveLines
      label="Throughput so far; the figures stand above."
      lines={[{ points }]}
      ceilings={ceiling === null ? [] : [{ name: `ceiling: ${ceilingName}`, mbps: ceiling }]}
      from={0}
      to={Math.max(seconds ?? 0, points.at(-1)?.[0] ?? 0, 1)}
    />
  );
}

/** More points than that are not told apart while they move. */
const MOST = 300;
/** A gap in time that is no sampler's delay, milliseconds. */
const GAP_MS = 60;

function pointsOf(samples: readonly Sample[]): LiveLine["points"] {
  let last = Infinity;
  return thinned(samples, MOST).flatMap(({ from, ms, bytes }) => {
    if (ms <= from) return [];
    const gap = from - last > GAP_MS ? [null] : [];
    last = ms;
    return [...gap, [ms / 1e3, bytes / 1e3 / (ms - from)] as const];
  });
}
