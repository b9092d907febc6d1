import { formatPercent } from "../../../units/number";
import { isCoreFull } from "../../../run/full-core";
import type { Observation } from "../observation";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** That a core had no time left: then the computer, or a file system that works on it, holds back. */
const CHANCES: Record<string, number> = { host: 0.5, fileSystem: 0.4 };
export const BUSY: Sign = {
  chance: (site, kind) => CHANCES[causeKey(site, kind)] ?? null,
  otherwise: 0.08,
};

/**
 * What the busiest core says, in most of a slow rig's runs on a host that was idle before: of one that was
 * busy with other programs that is a state of the run. A core that had time says nothing of the host's
 * ports.
 */
export function processor(seen: Observation): Signature[] {
  const { results = [], measurementIds, hostBusy = [], rig } = seen;
  if (hostBusy.some(Boolean)) return [];
  const told = results.filter(({ busiestCore }) => busiestCore !== null);
  const busy = told.filter(isCoreFull);
  if (told.length === 0 || busy.length <= told.length / 2) return [];
  const most = Math.max(...busy.map(({ busiestCore }) => busiestCore!));
  const text = `A core of the computer, idle before, was busy for ${formatPercent(most)} of the time.`;
  return [signature(BUSY, rig, true, { text, measurementIds })];
}
