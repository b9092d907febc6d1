import type { FarLoad } from "../run/far-host";
import type { Reading } from "../run/result";
import { farLoadOf } from "./far-load";
import { warmthKept, type KnownWarmth } from "./warmth";

/** What a run's result keeps of its readings; what nothing told is left out. */
export function keptOf(readings: readonly Reading[]): KnownWarmth & { farHost?: FarLoad } {
  const farHost = farLoadOf(readings);
  return { ...warmthKept(readings), ...(farHost ? { farHost } : {}) };
}
