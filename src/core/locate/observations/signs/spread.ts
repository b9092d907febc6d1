import { formatPercent } from "../../../units/number";
import type { Observation } from "../observation";
import { signature, type Sign, type Signature } from "./sign";

/** That repeats of one set-up differ widely: errors and retries come as they please, limits do not. */
export const WIDE: Sign = {
  chance: (_, kind) => (kind === "fault" ? 0.4 : kind === "pairing" ? 0.15 : null),
  otherwise: 0.04,
};

/** Repeats of a sound bench seldom differ by more, as a share: its noise is 1 to 6 %. */
const MOST_NOISE = 0.12;
/** Of fewer repeats a spread is chance. */
const ENOUGH = 3;

/** What the spread of a slow rig's repeats says. One that is narrow says nothing: most faults are steady. */
export function spread({ rig, repeats, measurementIds }: Observation): Signature[] {
  if (repeats.n < ENOUGH || repeats.cv === null || repeats.cv < MOST_NOISE) return [];
  const text = `The ${repeats.n} repeats of ${rig.name || "the rig"} spread by ${formatPercent(repeats.cv)}, as those of a part at fault do.`;
  return [signature(WIDE, rig, true, { text, measurementIds })];
}
