import { inClaimsWords, type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { Evidence } from "../locate/evidence";
import type { Finding } from "../locate/finding";
import type { Repeats } from "../stats/repeats";
import type { Origin } from "../study/measurement";
import { obstacleTo } from "./challenge";
import { impossibleClaim } from "./impossible";
import { counted } from "../units/counted";
import { formatPercent, IN_MB, type RateWords } from "../units/number";
import { DOING } from "../units/rate";

/** Nerrit's verdicts on a claim. */
export type VerdictKind = "Delivers" | "Delivers in bursts only" | "Falls short" | "Can't tell yet";

export interface Verdict {
  part: Part;
  claim: JudgedClaim;
  kind: VerdictKind;
  /** By how much it falls short, as a share of the claim; null for the other verdicts. */
  shortBy: number | null;
  /** Sentences, the weightiest first. */
  reasons: string[];
  /** What would settle an open verdict; empty for a closed one. */
  wouldSettle: string[];
  /** Whether that takes another rig; otherwise another run of this one would do. */
  needsRig: boolean;
  rigId: string | null;
  observed: Repeats | null;
}

/** One rig with the part in it, and what was measured and found through it in the claim's direction. */
export interface Trial {
  rig: Rig;
  observed: Repeats | null;
  /** Null where nothing was measured, or a link does not come up. */
  finding: Finding | null;
  /** Whether memory may have answered in the drive's place. */
  doubtful: boolean;
  /** Whether the drill goes on long enough to show what is sustained. */
  sustained: boolean;
  /** Bytes of its requests. */
  block: number;
  /** Where the runs come from, where they were not measured here. */
  origin?: Origin;
}

/** How far below a claim a part may stay and still deliver, unless the tester says otherwise. */
export const TOLERANCE = 0.05;

/**
 * Judges one printed claim of one part on the rigs it was measured in (docs/how-it-works.md).
 *
 * Delivers: the whole 95 % interval of the repeats lies at or above the claim less the tolerance.
 * Falls short: the whole interval lies below that, and runs have shown every other part and
 * condition of the rig to carry clearly more than the claim. What parts say of themselves shows
 * nothing. Anything else: can't tell yet.
 *
 * @param trials rigs of the study
 * @param evidence what the study's runs have shown
 * @param tolerance share of the claim
 */
export function judgeClaim(
  part: Part,
  claim: JudgedClaim,
  trials: readonly Trial[],
  evidence: Evidence,
  tolerance = TOLERANCE,
  rates = IN_MB,
): Verdict {
  const verdicts = trials
    .filter(({ rig }) => rig.parts.some(({ id }) => id === part.id))
    .map((trial) => judgeTrial(part, claim, trial, evidence, tolerance, rates));
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
      needsRig: true,
      rigId: null,
      observed: null,
    }
  );
}

function judgeTrial(
  part: Part,
  claim: JudgedClaim,
  trial: Trial,
  evidence: Evidence,
  tolerance: number,
  rates: RateWords,
): Verdict {
  const { rig, observed, finding, doubtful, sustained, block, origin = "measured" } = trial;
  const said = (mbps: number) => inClaimsWords(claim, mbps, block, rates);
  const verb = DOING[claim.direction];
  const floor = claim.mbps * (1 - tolerance);
  const allowed = `${said(floor)} (the claim less ${formatPercent(tolerance)})`;
  const base = { part, claim, shortBy: null, needsRig: false, rigId: rig.id, observed };
  const impossible = impossibleClaim(part, claim, rates);
  const open = (reason: string, wouldSettle: string[], needsRig = false): Verdict => ({
    ...base,
    kind: "Can't tell yet",
    reasons: [reason, ...impossible],
    wouldSettle,
    needsRig,
  });

  if (!observed) {
    return open(`${rig.name} has not been measured ${verb}.`, [`Measure ${rig.name} ${verb}.`]);
  }
  const seen = `${rig.name} ${sustained ? "sustained" : "reached"} ${said(observed.median)} ${verb} in ${counted(observed.n, origin === "measured" ? "run" : `${origin} run`)}`;
  if (!observed.interval) {
    return open(`${seen}; one run has no interval.`, ["Measure it at least twice."]);
  }
  const { low, high } = observed.interval;
  const interval = `95 % interval ${said(low)} to ${said(high)}`;
  if (doubtful || finding?.kind === "above") {
    const why = doubtful
      ? "memory may have answered in the drive’s place"
      : `that is more than the rig’s narrows can carry (${rates.said(finding!.narrows.ceiling)}), so something other than the drive answered`;
    return open(`${seen} (${interval}), but ${why}.`, [
      "Repeat it past the page cache, on a span larger than memory.",
    ]);
  }
  if (low >= floor) {
    if (claim.kind === "sustained" && !sustained) {
      return open(`${seen}; a run of seconds shows a peak, not what is sustained.`, [
        `Measure ${verb} for as long as the claim is meant.`,
      ]);
    }
    return {
      ...base,
      kind: "Delivers",
      reasons: [`${seen}, at or above ${allowed}; ${interval}.`],
      wouldSettle: [],
    };
  }
  if (high >= floor) {
    return open(`${seen}; its ${interval} lies on both sides of ${allowed}.`, [
      "More repeats narrow the interval.",
    ]);
  }
  const obstacle = obstacleTo(part, claim, rig, observed, finding, evidence, rates);
  if (obstacle) {
    return open(
      `${seen}, but ${part.name} was not challenged: ${obstacle.why}.`,
      [obstacle.settle],
      true,
    );
  }
  const shortBy = 1 - observed.median / claim.mbps;
  return {
    ...base,
    kind: "Falls short",
    shortBy,
    wouldSettle: [],
    reasons: [
      `${seen}, ${formatPercent(shortBy)} under the ${said(claim.mbps)} ${verb} it claims; ${interval}.`,
      `Runs have shown everything else in ${rig.name} to carry clearly more than the claim.`,
      ...impossible,
    ],
  };
}
