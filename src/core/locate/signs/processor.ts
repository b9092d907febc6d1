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

/** What the busiest core says, in most of a slow rig's runs. One that had time says nothing of the host's ports. */
export function processor({ rig, results = [], measurementIds }: Observation): Signature[] {
  const told = results.flatMap(({ busiestCore }) => busiestCore ?? []);
  const busy = told.filter((share) => share >= FULLY);
  if (told.length === 0 || busy.length <= told.length / 2) return [];
  const text = `A core of the computer was busy for ${formatPercent(Math.max(...busy))} of the time.`;
  return [signature(BUSY, rig, true, { text, measurementIds })];
}
