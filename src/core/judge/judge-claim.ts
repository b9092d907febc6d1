import type { Grounds, Verdict, VerdictKind } from "./verdict";
import { overName, type JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import { type Culprit } from "./culprit";
import { putInto } from "./settle";
import { judgeTrial } from "./judge-trial";

/** Rigs that a claim is held against: those that came nearest to it. Slower ones say less of the part. */
const MOST_JUDGED = 40;

/** Rigs that are located for one claim. */
const MOST_LOCATED = 6;

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
