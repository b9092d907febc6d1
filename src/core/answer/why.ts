import type { Conclusions } from "../conclude/conclusions";
import { evidenceOn, type Evidence } from "../locate/findings/for-and-against";
import { tellLocated } from "../locate/findings/sentences";
import { placesOf } from "../locate/locate";
import type { RateWords } from "../units/number";
import { isFinding, type CauseGroup } from "./cause-group";

/** What argues for a finding: the case of its worst rig, and the runs that speak for and against it. */
export interface Why {
  sentence: string;
  for: readonly Evidence[];
  against: readonly Evidence[];
  rigId: string;
}

/** Findings whose argument is worked out with the answer: those that are read first. */
export const ARGUED = 12;

/** Why a finding is held; null where it says nothing that needs an argument. */
export function whyOf(
  group: CauseGroup,
  { knownIn, locatedOf }: Pick<Conclusions, "knownIn" | "locatedOf">,
  rates: RateWords,
): Why | null {
  const [worst] = group.rigs;
  if (!isFinding(group) || !worst?.observation || !worst.standing) return null;
  const { name, direction } = worst.observation.drill;
  const seen = direction === "mixed" ? null : knownIn(name, direction).get(worst.rig.id);
  const located = seen ? locatedOf(seen) : null;
  const leading = located && placesOf(located.explanations)[0]?.explanations[0];
  if (!located || !leading) return null;
  return {
    sentence: tellLocated(located, rates),
    ...evidenceOn(leading, located, rates),
    rigId: located.rig.id,
  };
}
