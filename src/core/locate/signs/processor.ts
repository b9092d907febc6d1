import { formatPercent } from "../../units/number";
import type { Observation } from "../seen";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** That a core had no time left: then the computer, or a file system that works on it, holds back. */
const CHANCES: Record<string, number> = { host: 0.5, fileSystem: 0.4 };
export const BUSY: Sign = {
  chance: (site, kind) => CHANCES[causeKey(site, kind)] ?? null,
  otherwise: 0.08,
};

/** A core is busy from here on, as a share of its time. */
const FULLY = 0.97;

/** Where others were at work before the run began, a busy core is theirs; by load a core. */
const QUIET = 0.5;

/**
 * What the busiest core says, in most of a slow rig's runs on a machine that was quiet before. One that
 * had time says nothing of the host's ports.
 */
export function processor(seen: Observation): Signature[] {
  const { results = [], measurementIds, circumstances, rig } = seen;
  const { loadAtStart = 0, cores = 1 } = circumstances?.conditions ?? {};
  if (loadAtStart > QUIET * Math.max(1, cores)) return [];
  const told = results.flatMap(({ busiestCore }) => busiestCore ?? []);
  const busy = told.filter((share) => share >= FULLY);
  if (told.length === 0 || busy.length <= told.length / 2) return [];
  const text = `A core of the computer, quiet before, was busy for ${formatPercent(Math.max(...busy))} of the time.`;
  return [signature(BUSY, rig, true, { text, measurementIds })];
}
