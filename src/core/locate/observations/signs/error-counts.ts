import { formatNumber } from "../../../units/number";
import type { Observation } from "../observation";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** What goes wrong on the way is counted by whoever notices; what is slow by design makes no errors. */
const CHANCES: Record<string, number> = {
  fault: 0.4,
  pairing: 0.2,
  bay: 0.5,
  "cable dropped-mode": 0.15,
};

/** That the system counted errors while a rig ran. Some counters also rise where nothing is wrong. */
export const COUNTED: Sign = {
  chance: (site, kind) => CHANCES[causeKey(site, kind)] ?? CHANCES[kind] ?? null,
  otherwise: 0.05,
};

/** One or two are chance: a command that a drive does not know is counted too. */
const ENOUGH = 3;

/** What the system's counters of errors say. Counters that stand still say nothing: most faults count nowhere. */
export function errorCounts({ rig, errors = [], measurementIds }: Observation): Signature[] {
  const by = new Map<string, number>();
  for (const { what, before, after } of errors) by.set(what, (by.get(what) ?? 0) + after - before);
  const [most] = [...by].toSorted((a, b) => b[1] - a[1]);
  if (!most || most[1] < ENOUGH) return [];
  const [what, count] = most;
  const text = `While ${rig.name || "the rig"} ran the system counted ${formatNumber(count)} × ${what}.`;
  return [signature(COUNTED, rig, true, { text, measurementIds })];
}
