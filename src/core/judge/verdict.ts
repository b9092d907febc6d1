import { inClaimsWords, overName, printedWords, type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { summaryOf, titleOf } from "../drills/drill";
import { asksNoMore, isAlike, usualDrill } from "../drills/shape";
import type { Evidence } from "../locate/observations/evidence";
import type { Finding } from "../locate/findings/finding";
import type { Repeats } from "../stats/repeats";
import type { Observation } from "../study/measurement";
import { counted } from "../units/counted";
import { formatChance, formatPercent, type RateWords } from "../units/number";
import { DOING } from "../units/rate";
import { challengeOf, obstacleTo, type Challenged } from "./challenge";
import { LOCATED, type Culprit, type Guilt } from "./culprit";
import { impossibleClaim } from "./impossible";
import { another, measureIt, putInto, type Asking, type Settle } from "./settle";

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

/** Rigs that a claim is held against: those that came nearest to it. Slower ones say less of the part. */
const MOST_JUDGED = 40;
/** Rigs that are located for one claim. */
const MOST_LOCATED = 6;
/** A part that was challenged and is less likely to be what holds the rig back is not found short. */
const UNLIKELY = 0.4;

/** Bad pairs of a part that are together no likelier than this are ruled out. */
const RULED_OUT = 0.02;

/**
 * Judges one printed claim of one part on the rigs it was measured in (docs/model.md, 6).
 *
 * Delivers: the whole 95 % interval of the repeats lies at or above the claim less the tolerance.
 * Falls short: the whole interval lies below that, all runs together put it down to the part itself at
 * 95 % and more, and no bad pair of it is left. Falls short in this combination: it lies below, and runs have shown every other part
 * and condition of the rig to carry clearly more than the claim. What parts say of themselves shows
 * nothing. Anything else: can't tell yet.
 */
export function judgeClaim(part: Part, claim: JudgedClaim, grounds: Grounds): Verdict {
  const { trials } = grounds;
  let asked = 0;
  // Locating takes its time: of very many rigs those that came nearest to the claim are looked at.
  const few =
    (culprit: Culprit): Culprit =>
    (...args) =>
      asked++ < MOST_LOCATED ? culprit(...args) : null;
  const verdicts: Verdict[] = [];
  const order = trials
    .filter(({ rig }) => rig.parts.some(({ id }) => id === part.id))
    .toSorted((a, b) => (b.observed?.median ?? -1) - (a.observed?.median ?? -1))
    .slice(0, MOST_JUDGED);
  for (const trial of order) {
    const verdict = judgeTrial(part, claim, trial, few(trial.culprit), grounds);
    verdicts.push(verdict);
    // What passed, passed, whatever slower rigs show.
    if (verdict.kind === "Delivers") break;
  }
  const rank: VerdictKind[] = [
    "Delivers",
    "Falls short",
    "Falls short in this combination",
    "Can't tell yet",
  ];
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
      ...nowhere(part, claim, grounds),
      rig: null,
      seen: null,
      observed: null,
      challenge: [],
    }
  );
}

/** Of a part that stands in no rig, or in none that runs over the link of the claim. */
function nowhere(
  part: Part,
  claim: JudgedClaim,
  { rigs }: Grounds,
): Pick<Verdict, "reasons" | "settle"> {
  const { kind: shows, direction, block, depth } = claim;
  const standing = rigs.filter(({ parts, beside, other }) =>
    [...parts, ...beside, ...other].some(({ id }) => id === part.id),
  );
  if (standing.length > 0 && claim.over !== undefined) {
    const link = overName(claim.over);
    return {
      reasons: [
        `No rig of this study has ${part.name} on a link of ${link}, for which it claims that.`,
      ],
      settle: [
        { text: `Measure ${part.name} in a rig in which its link runs ${link}.`, ask: null },
      ],
    };
  }
  return {
    reasons: [`${part.name} stands in no rig of this study.`],
    settle: [putInto(part, rigs, { shows, direction, set: { block, depth } })],
  };
}

function judgeTrial(
  part: Part,
  claim: JudgedClaim,
  trial: Trial,
  culprit: Culprit,
  { trials, shelf, tolerance, rates }: Grounds,
): Verdict {
  const { rig, seen: from, observed, finding, evidence, larger, sustained } = trial;
  const { origin = "measured", doubtful = false } = from ?? {};
  const said = (mbps: number) => inClaimsWords(claim, mbps, rates);
  const verb = DOING[claim.direction];
  const floor = claim.mbps * (1 - tolerance);
  const allowed = `${said(floor)} (the claim less ${formatPercent(tolerance)})`;
  const requests = printsRequests(claim)
    ? printedWords({ ...claim, over: undefined })
    : claim.kind === "iops"
      ? " by small requests"
      : "";
  const asking: Asking = {
    shows: claim.kind,
    direction: claim.direction,
    ...(printsRequests(claim) && { set: { block: claim.block, depth: claim.depth } }),
    measured: trials.flatMap((one) => (one.observed ? [one.rig] : [])),
  };
  const measure = (text: string) => measureIt(text, rig, asking);
  const challenge = challengeOf(part, claim, rig, evidence);
  const base = { part, claim, shortBy: null, rig, seen: from, observed, challenge };
  const impossible = impossibleClaim(part, claim, rates);
  const open = (reason: string, settle: Settle): Verdict => ({
    ...base,
    kind: "Can't tell yet",
    reasons: [reason, ...impossible],
    settle: [settle],
  });

  if (!observed) {
    return open(
      `${rig.name} has not been measured ${verb}${requests}.`,
      measure(`Measure ${rig.name} ${verb}${requests}.`),
    );
  }
  const seen = `${rig.name} ${sustained ? "sustained" : "reached"} ${said(observed.median)} ${verb} in ${counted(observed.n, origin === "measured" ? "run" : `${origin} run`)}`;
  if (!observed.interval) {
    return open(
      `${seen}; one run has no interval.`,
      measure(`Measure ${rig.name} at least twice.`),
    );
  }
  const { low, high } = observed.interval;
  const interval = `95 % interval ${said(low)} to ${said(high)}`;
  if (doubtful || finding?.kind === "above") {
    const why = doubtful
      ? "memory may have answered in the drive’s place"
      : `that is more than the rig’s narrows can carry (${rates.said(finding!.narrows.ceiling)}), so something other than the drive answered`;
    return open(
      `${seen} (${interval}), but ${why}.`,
      measure("Repeat it past the page cache, on a span larger than memory."),
    );
  }
  if (low >= floor) {
    if (claim.kind === "sustained" && !sustained) {
      return open(
        `${seen}; a run of seconds shows a peak, not what is sustained.`,
        measure(`Measure ${rig.name} ${verb} for as long as the claim is meant.`),
      );
    }
    return {
      ...base,
      kind: "Delivers",
      reasons: [`${seen}, at or above ${allowed}; ${interval}.`],
      settle: [],
    };
  }
  if (larger) {
    return open(
      `${seen}, by larger requests than such a claim means.`,
      measure(`Measure ${rig.name} ${verb} by requests of 4 KiB.`),
    );
  }
  if (high >= floor) {
    return open(
      `${seen}; its ${interval} lies on both sides of ${allowed}.`,
      measure(`Measure ${rig.name} a few times more: that narrows the interval.`),
    );
  }
  const obstacle = obstacleTo(part, claim, rig, observed, finding, evidence, shelf, asking, rates);
  const suspicion = culprit(part.id, rig, claim.direction);
  const guilt = suspicion && suspicion.itself;
  // Of small requests the time that each takes is not known well enough to say whose it is.
  if (!obstacle && claim.kind !== "iops" && guilt !== null && guilt < UNLIKELY) {
    return open(
      `${seen}; all else in the rig was shown to carry more, but all runs together put it down to something other than ${part.name} by itself (to ${part.name}: ${formatChance(guilt)}).`,
      measure(`Follow the next step that Locate names for ${rig.name}.`),
    );
  }
  if (obstacle && (guilt ?? 0) < LOCATED) {
    const usual = usualDrill(from!.drill.name, claim.direction);
    if (asksNoMore(from!.drill, usual) && !isAlike(from!.drill, usual))
      return open(
        `${seen}, asked for less than usual (${summaryOf(from!.drill)}), and nobody was shown to carry more of that.`,
        measure(`Measure ${rig.name} ${verb} by the usual ${titleOf(usual)}.`),
      );
    return open(`${seen}, but ${part.name} was not challenged: ${obstacle.why}.`, obstacle.settle);
  }
  const shortBy = 1 - observed.median / claim.mbps;
  const paired = suspicion?.pairs.reduce((sum, { probability }) => sum + probability, 0) ?? 1;
  const isItself = guilt !== null && guilt >= LOCATED && paired <= RULED_OUT;
  const control = isItself ? null : partFromPair(part, claim, rig, suspicion, shelf, asking);
  return {
    ...base,
    kind: isItself ? "Falls short" : "Falls short in this combination",
    shortBy,
    settle: control ? [control.settle] : [],
    reasons: [
      `${seen}, ${formatPercent(shortBy)} under the ${said(claim.mbps)} ${verb} it claims; ${interval}.`,
      isItself || obstacle
        ? `All runs together put it down to ${part.name} itself (${formatChance(guilt!)}).`
        : `Runs have shown everything else in ${rig.name} to carry clearly more than the claim.`,
      ...(control ? [control.why] : []),
      ...impossible,
    ],
  };
}

const printsRequests = ({ block, depth }: JudgedClaim) =>
  block !== undefined || depth !== undefined;

/** Why it is open whether a part or a pair is slow, and the one swap that tells. */
function partFromPair(
  part: Part,
  claim: JudgedClaim,
  rig: Rig,
  suspicion: Guilt | null,
  shelf: readonly Part[],
  asking: Asking,
): { why: string; settle: Settle } {
  const at = rig.parts.findIndex(({ id }) => id === part.id);
  const beside = [rig.parts[at + 1], rig.parts[at - 1]].flatMap((one) => one ?? []);
  const likely = suspicion?.pairs ?? [];
  const neighbours = [...likely.map((one) => one.part), ...beside].filter(
    ({ id }, i, all) => all.findIndex((other) => other.id === id) === i,
  );
  const swaps = neighbours.map((one) => {
    const why = `which tells whether ${part.name} is slow by itself or only beside ${one.name}`;
    return another(one, rig, shelf, claim.mbps, why, asking);
  });
  const names = neighbours.slice(0, 2).map(({ name }) => name);
  const chance = suspicion ? ` (${part.name} by itself: ${formatChance(suspicion.itself)})` : "";
  const isLikely = suspicion !== null && suspicion.itself >= LOCATED;
  return {
    why: isLikely
      ? `That ${part.name} is slow only beside ${names[0]} is not ruled out yet${chance}.`
      : `It is open whether ${part.name} is slow by itself or only beside ${names.join(" or ")}${chance}.`,
    settle: swaps.find(({ ask }) => ask !== null) ?? swaps[0]!,
  };
}
