import { type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { Evidence } from "../locate/observations/evidence";
import type { Finding } from "../locate/findings/finding";
import type { Repeats } from "../stats/repeats";
import type { Observation } from "../study/measurement";
import { type RateWords } from "../units/number";
import { type Challenged } from "./challenge";
import { type Culprit } from "./culprit";
import { type Settle } from "./settle";

/**
 * Nerrit's verdicts on a claim. A part falls short by itself, or in this combination: everything else was
 * challenged, and it is open whether the part is slow anywhere or only beside one of its neighbours.
 */
export type VerdictKind =
  | "Delivers"
  | "Delivers in bursts only"
  | "Falls short"
  | "Falls short in this combination"
  | "Can't tell yet";

/** What falls short: the part itself, or the part in this combination; null for all other verdicts. */
export const scopeOf = (kind: VerdictKind): "part" | "combination" | null =>
  kind === "Falls short"
    ? "part"
    : kind === "Falls short in this combination"
      ? "combination"
      : null;

export interface Verdict {
  part: Part;
  claim: JudgedClaim;
  kind: VerdictKind;
  /** By how much it falls short, as a share of the claim; null for the other verdicts. */
  shortBy: number | null;
  /** Sentences, the weightiest first. */
  reasons: string[];
  /** What would settle an open verdict; empty for a closed one. */
  settle: Settle[];
  /** The rig that it rests on; null where the part stands in none. */
  rig: Rig | null;
  /** What was seen of that rig. */
  seen: Observation | null;
  observed: Repeats | null;
  /** Everything else in that rig, with what shows that it could carry clearly more than the claim. */
  challenge: Challenged[];
}

/** What is found of a claim, whichever way it was judged. */
export type Judgement = Omit<Verdict, "part" | "claim">;

/**
 * One rig with the part in it, and what was measured and found through it in the claim's direction, by
 * requests of one kind.
 */
export interface Trial {
  rig: Rig;
  seen: Observation | null;
  /** What runs have shown that were asked for no more than these. */
  evidence: Evidence;
  /** What all that was seen by as large requests, as many in flight, makes of a part. */
  culprit: Culprit;
  /** Its rates, or what was left of them in the end. */
  observed: Repeats | null;
  /** Null where nothing was measured, or a link does not come up. */
  finding: Finding | null;
  /** Whether its requests are larger than those of the claim: it shows what passes, and accuses nobody. */
  larger: boolean;
  /** Whether the drill goes on long enough to show what is sustained. */
  sustained: boolean;
}

/** What verdicts of one kind of claim rest on. */
export interface Grounds {
  trials: readonly Trial[];
  /** All rigs of the study, also those that no trial is of. */
  rigs: readonly Rig[];
  /** The parts at hand, for steps that would settle what is open. */
  shelf: readonly Part[];
  tolerance: number;
  rates: RateWords;
}
