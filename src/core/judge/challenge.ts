import type { JudgedClaim } from "../chain/claim";
import { PART_KIND_NAMES, type Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { stagesOf, type Stage } from "../chain/stage";
import { carriersOf, directionsThrough, showsMore, type Evidence } from "../locate/evidence";
import type { Finding } from "../locate/finding";
import type { Repeats } from "../stats/repeats";
import { IN_MB } from "../units/number";
import { DOING } from "../units/rate";

/** What stands between a slow rig and a verdict on one of its parts, and what would remove it. */
export interface Obstacle {
  why: string;
  settle: string;
}

/**
 * What keeps a slow rig from being held against one of its parts: anything else in it that the
 * ledger allows less than the claim, or that no run has shown to carry clearly more.
 *
 * @param observed repeats that stay below the claim
 * @param finding of these repeats; null where a link does not come up
 * @returns null where the part was challenged
 */
export function obstacleTo(
  part: Part,
  claim: JudgedClaim,
  rig: Rig,
  observed: Repeats,
  finding: Finding | null,
  evidence: Evidence,
  rates = IN_MB,
): Obstacle | null {
  const rated = `${rates.said(claim.mbps)} ${DOING[claim.direction]}`;
  const another = `Put another ${PART_KIND_NAMES[part.kind]} in place of ${part.name}: more than ${rated} there would clear all the rest of the rig.`;
  if (!finding) return { why: "a link of the rig does not come up in the ledger", settle: another };
  const byOthers = finding.narrows.culprits.filter(({ id }) => id !== part.id);
  if (finding.kind === "by protocol") {
    return {
      why: "the rig reaches all that its driver mode gets out of the link",
      settle: another,
    };
  }
  const [slow] = stagesOf(rig, claim.direction)
    .filter((stage) => stage.ceiling < claim.mbps && !isOwn(stage, part))
    .toSorted((a, b) => Number(b.holds) - Number(a.holds) || a.ceiling - b.ceiling);
  if (slow || (finding.kind === "at narrows" && byOthers.length > 0)) {
    const [name, most] = slow
      ? [slow.label, slow.ceiling]
      : [byOthers.map((other) => other.name).join(" and "), finding.narrows.ceiling];
    return {
      why: `as the rig stands, ${name} can carry ${rates.said(most)} at most`,
      settle: `Swap ${name} for one that carries clearly more than ${rated}.`,
    };
  }
  const unshown = carriersOf(rig).filter(
    (carrier) =>
      carrier.part?.id !== part.id &&
      !directionsThrough(rig, carrier, claim.direction).every((way) =>
        showsMore(evidence, carrier, way, claim.mbps),
      ),
  );
  if (unshown.length > 0) {
    const names = unshown.map(({ name }) => name);
    return {
      why: `no run shows that ${names.join(", ")} ${names.length === 1 ? "carries" : "carry"} more than ${rates.said(claim.mbps)}`,
      settle:
        names.length === 1
          ? `Show by a run through another rig that ${names[0]} carries more than ${rated}.`
          : another,
    };
  }
  const [own] = carriersOf(rig).filter((carrier) => carrier.part?.id === part.id);
  const better = own && showsMore(evidence, own, claim.direction, observed.median);
  return better
    ? {
        why: `through ${better.rig.name} it has itself carried ${rates.said(better.repeats.median)}, so here something else held it back`,
        settle: `Find what differs between ${rig.name} and ${better.rig.name}.`,
      }
    : null;
}

/** Whether a stage is as narrow as it is because of one part alone. */
function isOwn({ cause, part: at }: Stage, part: Part): boolean {
  if (cause.kind !== "link") return at.id === part.id;
  const { heldBy, held } = cause.link;
  return held.length === 0 && heldBy.length === 1 && heldBy[0]!.id === part.id;
}
