import type { Grounds, Trial, Verdict } from "./verdict";
import { inClaimsWords, printedWords, type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
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

export function judgeTrial(
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
      : `that is more than the rig’s bottleneck can carry (${rates.said(finding!.bottleneck.ceiling)}), so something other than the drive answered`;
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
      measure(`Measure ${rig.name} a few times more: that tightens the interval.`),
    );
  }
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
