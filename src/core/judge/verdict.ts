import type { RateClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import type { Repeats } from "../stats/repeats";
import { impossibleClaim } from "./impossible";
import { formatPercent, formatRate } from "../units/number";

/** Nerrit's verdicts on a claim (bursts are judged once long drills exist). */
export type VerdictKind = "Delivers" | "Falls short" | "Can't tell yet";

export interface Verdict {
  part: Part;
  claim: RateClaim;
  kind: VerdictKind;
  /** By how much it falls short, as a share of the claim; null for the other verdicts. */
  shortBy: number | null;
  /** Sentences, the weightiest first. */
  reasons: string[];
  /** What would settle an open verdict; empty for a closed one. */
  wouldSettle: string[];
  rigId: string | null;
  observed: Repeats | null;
}

/** One rig with the enclosure in it, and what was measured through it in the claim's direction. */
export interface Trial {
  rig: Rig;
  observed: Repeats | null;
}

/** How far below a claim a part may stay and still deliver, unless the tester says otherwise. */
export const TOLERANCE = 0.05;

/**
 * Judges one printed claim of one part on the rigs it was measured in.
 *
 * Delivers: the whole 95 % interval of the repeats lies at or above the claim less the tolerance.
 * Falls short: the whole interval lies below that, and everything else in the rig is known to be
 * able to carry the claim. Anything else: can't tell yet.
 *
 * @param trials rigs that hold the part
 * @param tolerance share of the claim
 */
export function judgeClaim(
  part: Part,
  claim: RateClaim,
  trials: readonly Trial[],
  tolerance = TOLERANCE,
): Verdict {
  const verdicts = trials
    .filter(({ rig }) => rig.parts.some(({ id }) => id === part.id))
    .map((trial) => judgeTrial(part, claim, trial, tolerance));
  const rank: VerdictKind[] = ["Delivers", "Falls short", "Can't tell yet"];
  const best = verdicts.toSorted(
    (a, b) =>
      rank.indexOf(a.kind) - rank.indexOf(b.kind) ||
      (b.observed?.median ?? 0) - (a.observed?.median ?? 0),
  )[0];
  return (
    best ?? {
      part,
      claim,
      kind: "Can't tell yet",
      shortBy: null,
      reasons: [`${part.name} stands in no rig of this study.`],
      wouldSettle: [`Put ${part.name} into a rig and measure it.`],
      rigId: null,
      observed: null,
    }
  );
}

function judgeTrial(
  part: Part,
  claim: RateClaim,
  { rig, observed }: Trial,
  tolerance: number,
): Verdict {
  const verb = verbOf(claim);
  const rated = `${formatRate(claim.mbps)} MB/s ${verb}`;
  const floor = claim.mbps * (1 - tolerance);
  const allowed = `${formatRate(floor)} MB/s (the claim less ${formatPercent(tolerance)})`;
  const base = { part, claim, shortBy: null, wouldSettle: [], rigId: rig.id, observed };
  const open = (reasons: string[], wouldSettle: string[]): Verdict => ({
    ...base,
    kind: "Can't tell yet",
    reasons,
    wouldSettle,
  });

  const impossible = impossibleClaim(part, claim);
  if (!observed) {
    return open(
      [`${rig.name} has not been measured ${verb}.`, ...impossible],
      [`Measure ${rig.name} ${verb}.`],
    );
  }
  const seen = `${rig.name} reached ${formatRate(observed.median)} MB/s ${verb} in ${observed.n} ${observed.n === 1 ? "run" : "runs"}`;
  if (!observed.interval) {
    return open(
      [`${seen}; one run has no interval.`, ...impossible],
      ["Measure it at least twice."],
    );
  }
  const { low, high } = observed.interval;
  const interval = `95 % interval ${formatRate(low)} to ${formatRate(high)} MB/s`;
  if (low >= floor) {
    const beyond = beyondCeiling(rig, claim, observed);
    if (beyond)
      return open(
        [`${seen} (${interval}).`, beyond],
        ["Find out what answered: repeat it past the page cache."],
      );
    return {
      ...base,
      kind: "Delivers",
      reasons: [`${seen}, at or above ${allowed}; ${interval}.`],
    };
  }
  if (high >= floor) {
    return open(
      [`${seen}; its ${interval} lies on both sides of ${allowed}.`],
      ["More repeats narrow the interval."],
    );
  }
  const obstacles = obstaclesTo(part, claim, rig, floor);
  if (obstacles.length > 0) {
    return open(
      [
        `${seen}, but ${part.name} was not challenged: ${obstacles.map((o) => o.why).join("; ")}.`,
        ...impossible,
      ],
      obstacles.map((o) => o.settle),
    );
  }
  const shortBy = 1 - observed.median / claim.mbps;
  return {
    ...base,
    kind: "Falls short",
    shortBy,
    reasons: [
      `${seen}, ${formatPercent(shortBy)} under the ${rated} it claims; ${interval}.`,
      `Every other part of ${rig.name} is known to carry the claim.`,
      ...impossible,
    ],
  };
}

function beyondCeiling(rig: Rig, claim: RateClaim, observed: Repeats): string | null {
  const stages = stagesOf(rig, claim.direction);
  const lowest = Math.min(...stages.map(({ ceiling }) => ceiling));
  if (observed.median <= lowest * 1.01) return null;
  return `That is more than the rig's narrows can carry (${formatRate(lowest)} MB/s), so something other than the drive answered.`;
}

/**
 * What in the rig, other than the part itself, is not known to carry the claim: a stage whose sure
 * rate is below it, or a drive of unknown rate.
 */
function obstaclesTo(part: Part, claim: RateClaim, rig: Rig, floor: number) {
  return stagesOf(rig, claim.direction)
    .filter((stage) => stage.part.id !== part.id && stage.sure < floor)
    .map((stage) =>
      stage.cause.kind === "plug"
        ? {
            why: `how fast ${stage.label} is by itself is not known`,
            settle: `Enter the rate of ${stage.label} ${verbOf(claim)}, or show it behind another enclosure.`,
          }
        : {
            why: `${stage.label} is sure of ${formatRate(stage.sure)} MB/s only`,
            settle: `Swap ${stage.label} for one that is sure of ${formatRate(claim.mbps)} MB/s.`,
          },
    );
}

const verbOf = (claim: RateClaim) => (claim.direction === "read" ? "reading" : "writing");
