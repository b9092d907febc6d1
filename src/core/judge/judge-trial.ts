import type { Grounds, Trial, Verdict } from "./verdict";
import { inClaimsWords, printedWords, type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { Repeats } from "../stats/repeats";
import { summaryOf, titleOf } from "../drills/drill";
import { asksNoMore, isAlike, usualDrill } from "../drills/shape";
import { counted } from "../units/counted";
import { formatChance, formatPercent } from "../units/number";
import { DOING } from "../units/rate";
import { challengeOf, obstacleTo } from "./challenge";
import { LOCATED, type Culprit, type Guilt } from "./culprit";
import { impossibleClaim } from "./impossible";
import { another, measureIt, type Asking, type Means, type Settle } from "./settle";

/** A part that was challenged and is less likely to be what holds the rig back is not found short. */
const UNLIKELY = 0.4;

/** Bad pairs of a part that are together no likelier than this are ruled out. */
const RULED_OUT = 0.02;

/**
 * A claim of a part, held against what was seen of one rig with it.
 *
 * @param culprit how likely it is that a part by itself, or a pair with it, holds a rig back
 */
export function judgeTrial(
  part: Part,
  claim: JudgedClaim,
  trial: Trial,
  culprit: Culprit,
  grounds: Grounds,
): Verdict {
  const held = holdAgainst(part, claim, trial, grounds);
  if (!trial.observed) {
    const what = `${held.verb}${requestsWords(claim)}`;
    return held.open(
      `${trial.rig.name} has not been measured ${what}.`,
      held.measure(`Measure ${trial.rig.name} ${what}.`),
    );
  }
  const known = seenIn(held, trial.observed);
  return (
    notToBeTrusted(held, known) ??
    byInterval(held, known) ??
    byArgument(held, known, culprit, grounds.shelf)
  );
}

/** A claim that is held against a trial, and the sentences that every verdict on it is made of. */
interface Held extends Pick<Grounds, "tolerance" | "rates"> {
  part: Part;
  claim: JudgedClaim;
  trial: Trial;
  asking: Asking;
  /** The claim less the tolerance, MB/s. */
  floor: number;
  verb: string;
  /** A rate as the claim says its own. */
  said: (mbps: number) => string;
  measure: (text: string) => Settle;
  base: Omit<Verdict, "kind" | "reasons" | "settle">;
  impossible: string[];
  open: (reason: string, settle: Settle) => Verdict;
}

function holdAgainst(
  part: Part,
  claim: JudgedClaim,
  trial: Trial,
  { trials, tolerance, rates }: Grounds,
): Held {
  const { rig, seen, observed, evidence } = trial;
  const asking: Asking = {
    shows: claim.kind,
    direction: claim.direction,
    ...(printsRequests(claim) && { set: { block: claim.block, depth: claim.depth } }),
    measured: trials.flatMap((one) => (one.observed ? [one.rig] : [])),
  };
  const challenge = challengeOf(part, claim, rig, evidence);
  const base = { part, claim, shortBy: null, rig, seen, observed, challenge };
  const impossible = impossibleClaim(part, claim, rates);
  return {
    part,
    claim,
    trial,
    asking,
    tolerance,
    rates,
    floor: claim.mbps * (1 - tolerance),
    verb: DOING[claim.direction],
    said: (mbps) => inClaimsWords(claim, mbps, rates),
    measure: (text) => measureIt(text, rig, asking),
    base,
    impossible,
    open: (reason, settle) => ({
      ...base,
      kind: "Can't tell yet",
      reasons: [reason, ...impossible],
      settle: [settle],
    }),
  };
}

/** Repeats of a trial, and how they are told. */
interface Known {
  observed: Repeats;
  seen: string;
  interval: string;
}

function seenIn({ trial, said, verb }: Held, observed: Repeats): Known {
  const { rig, seen: from, sustained } = trial;
  const origin = from?.origin ?? "measured";
  const runs = counted(observed.n, origin === "measured" ? "run" : `${origin} run`);
  const { interval } = observed;
  return {
    observed,
    seen: `${rig.name} ${sustained ? "sustained" : "reached"} ${said(observed.median)} ${verb} in ${runs}`,
    interval: interval ? `95 % interval ${said(interval.low)} to ${said(interval.high)}` : "",
  };
}

/** What shows nothing of the part: a single run, or one that something else answered. */
function notToBeTrusted(
  { trial, open, measure, rates }: Held,
  { observed, seen, interval }: Known,
): Verdict | null {
  const { rig, finding } = trial;
  const doubtful = trial.seen?.doubtful ?? false;
  if (!observed.interval)
    return open(
      `${seen}; one run has no interval.`,
      measure(`Measure ${rig.name} at least twice.`),
    );
  if (!doubtful && finding?.kind !== "above") return null;
  const why = doubtful
    ? "memory may have answered in the drive’s place"
    : `that is more than the rig’s bottleneck can carry (${rates.said(finding!.bottleneck.ceiling)}), so something other than the drive answered`;
  return open(
    `${seen} (${interval}), but ${why}.`,
    measure("Repeat it past the page cache, on a span larger than memory."),
  );
}

/** What the interval of the repeats settles by itself; null where all of it lies below the claim. */
function byInterval(held: Held, { observed, seen, interval }: Known): Verdict | null {
  const { trial, claim, floor, tolerance, said, verb, base, open, measure } = held;
  const { rig, larger, sustained } = trial;
  const { low, high } = observed.interval!;
  const allowed = `${said(floor)} (the claim less ${formatPercent(tolerance)})`;
  if (low >= floor) {
    if (claim.kind === "sustained" && !sustained)
      return open(
        `${seen}; a run of seconds shows a peak, not what is sustained.`,
        measure(`Measure ${rig.name} ${verb} for as long as the claim is meant.`),
      );
    return {
      ...base,
      kind: "Delivers",
      reasons: [`${seen}, at or above ${allowed}; ${interval}.`],
      settle: [],
    };
  }
  if (larger)
    return open(
      `${seen}, by larger requests than such a claim means.`,
      measure(`Measure ${rig.name} ${verb} by requests of 4 KiB.`),
    );
  if (high < floor) return null;
  return open(
    `${seen}; its ${interval} lies on both sides of ${allowed}.`,
    measure(`Measure ${rig.name} a few times more: that tightens the interval.`),
  );
}

/** Whose it is that a claim is missed, as far as runs tell. */
function byArgument(
  held: Held,
  { observed, seen, interval }: Known,
  culprit: Culprit,
  shelf: readonly Part[],
): Verdict {
  const { part, claim, trial, asking, rates, said, verb, base, impossible, open, measure } = held;
  const { rig, seen: from, finding, evidence } = trial;
  const obstacle = obstacleTo(
    part,
    claim,
    { rig, observed, finding },
    { evidence, shelf, asking, rates },
  );
  const suspicion = culprit(part.id, rig, claim.direction);
  const guilt = suspicion && suspicion.itself;
  // Of small requests the time that each takes is not known well enough to say whose it is.
  if (!obstacle && claim.kind !== "iops" && guilt !== null && guilt < UNLIKELY) {
    return open(
      `${seen}. Every other part of the rig was shown to carry more, but by all runs together ${part.name} by itself is unlikely (${formatChance(guilt)}).`,
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
  const control = isItself ? null : partFromPair(part, claim, rig, suspicion, { shelf, asking });
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

/** By which requests a claim is meant, to follow a verb. */
const requestsWords = (claim: JudgedClaim): string =>
  printsRequests(claim)
    ? printedWords({ ...claim, over: undefined })
    : claim.kind === "iops"
      ? " by small requests"
      : "";

const printsRequests = ({ block, depth }: JudgedClaim) =>
  block !== undefined || depth !== undefined;

/** Why it is open whether a part or a pair is slow, and the one swap that tells. */
function partFromPair(
  part: Part,
  claim: JudgedClaim,
  rig: Rig,
  suspicion: Guilt | null,
  means: Means,
): { why: string; settle: Settle } {
  const at = rig.parts.findIndex(({ id }) => id === part.id);
  const beside = [rig.parts[at + 1], rig.parts[at - 1]].flatMap((one) => one ?? []);
  const likely = suspicion?.pairs ?? [];
  const neighbours = [...likely.map((one) => one.part), ...beside].filter(
    ({ id }, i, all) => all.findIndex((other) => other.id === id) === i,
  );
  const swaps = neighbours.map((one) => {
    const why = `which tells whether ${part.name} is slow by itself or only beside ${one.name}`;
    return another(one, rig, claim.mbps, why, means);
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
