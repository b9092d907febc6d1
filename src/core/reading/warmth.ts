import type { Reading } from "../run/result";
import { sensorOf } from "../run/sensor";
import type { Warmth } from "./cause";

/** What is not the drive's or its enclosure's own warmth. */
const ELSEWHERE = /cpu|core|package|processor|tctl|tdie|gpu|chipset|pch|acpi|wifi|room|ambient/i;

/** The warmest of what is about the drive: that which would slow down first. */
export function warmthOf(readings: readonly Reading[]): Warmth[] {
  const most = new Map<string, number>();
  for (const { celsius } of readings)
    for (const [what, value] of Object.entries(celsius))
      if (!ELSEWHERE.test(sensorOf(what)))
        most.set(what, Math.max(most.get(what) ?? -Infinity, value));
  const [warmest] = [...most].sort(([, a], [, b]) => b - a);
  if (!warmest) return [];
  return readings.flatMap(({ ms, celsius }) =>
    celsius[warmest[0]] === undefined ? [] : [{ ms, celsius: celsius[warmest[0]]! }],
  );
}

/** How warm a drive was as a run began, and at its hottest, °C; empty where nothing told. */
export interface KnownWarmth {
  startCelsius?: number;
  hottestCelsius?: number;
}

/** Readings so near to a run's first counted moment tell of its beginning, milliseconds. */
const BEGINNING = 3000;

/** What a result keeps of a run's readings: of the beginning by those near to it, of the hottest by all. */
export function warmthKept(readings: readonly Reading[]): KnownWarmth {
  const near = readings.filter(({ ms }) => Math.abs(ms) < BEGINNING);
  const start = startCelsius(near.length > 0 ? near : readings.slice(0, 3));
  const all = warmthOf(readings).map(({ celsius }) => celsius);
  return {
    ...(start === null ? {} : { startCelsius: start }),
    ...(all.length === 0 ? {} : { hottestCelsius: Math.max(...all) }),
  };
}

/** How warm the drive was as a run began, °C; null where nothing told. */
export const startCelsius = (readings: readonly Reading[]): number | null =>
  warmthOf(readings)[0]?.celsius ?? null;
