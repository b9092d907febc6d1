import type { SetUpObservation } from "../observations/observation";
import type { LedgerCapacity } from "./ledger-capacity";
import type { Site } from "../hypotheses/site";

/** How likely what was seen is, were the least limit of its sites at each place of the grid. */
export interface Trial extends SetUpObservation {
  /** Its place among what was seen. */
  at: number;
  sites: readonly Site[];
  ledger: LedgerCapacity;
  /** Median of the repeats, MB/s. */
  median: number;
  /** Of the logarithm of the set-up's mean rate: what repeats and set-ups differ by. */
  noise: number;
  /** Altogether, by place. */
  likelihood: Float64Array;
  /** The largest of these. */
  top: number;
  /** As far as the limit at that place is what holds the rig back. */
  limited: Float64Array;
  /** As far as each of the ledger's limits does, below that place. */
  asDesigned: readonly Float64Array[];
  /** As far as something does that is on no list. */
  odd: Float64Array;
}

/** Degrees of freedom of the noise: tails so heavy that one odd run convicts nobody. */
export const TAILS = 4;
