import type { JudgedClaim } from "../chain/claim";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import type { Stage } from "../chain/stage";
import { stagesOf } from "../chain/stages";
import {
  carriersOf,
  directionsThrough,
  mostShown,
  showsMore,
  type Carrier,
  type Evidence,
} from "../locate/observations/evidence";
import type { Finding } from "../locate/findings/finding";
import type { Repeats } from "../stats/repeats";
import { IN_MB, type RateWords } from "../units/number";
import { DOING, type Direction } from "../units/rate";
import { another, drivenAsUsual, measureIt, type Means, type Settle } from "./settle";

/** What stands between a slow rig and a verdict on one of its parts, and what would remove it. */
export interface Obstacle {
  why: string;
  settle: Settle;
}

/** What else stands in the path of a claim, and the run that shows it to carry clearly more, if any. */
export interface Challenged {
  /** As said in a list: "K5", "file system exFAT". */
  name: string;
  /** The most that it has carried where that is not clearly more than the claim, MB/s; null for nothing. */
  most: number | null;
  shown: { mbps: number; rig: Rig; measurementIds: readonly string[] } | null;
}

/** Everything else in a rig, with what shows that it could carry clearly more than a claim. */
export function challengeOf(
  part: Part,
  claim: JudgedClaim,
  rig: Rig,
  evidence: Evidence,
): Challenged[] {
  return carriersOf(rig)
    .filter((carrier) => carrier.part?.id !== part.id)
    .map((carrier) => {
      const ways = directionsThrough(rig, carrier, claim.direction);
      const shown = ways.map((way) => showsMore(evidence, carrier, way, claim.mbps));
      const [first] = shown;
      const most = ways.map((way) => mostShown(evidence, carrier, way));
      return {
        name: carrier.name,
        most: most.some((one) => one === null)
          ? null
          : Math.min(...most.map((one) => one!.repeats.median * one!.share)),
        shown:
          first && shown.every((one) => one !== null)
            ? {
                mbps: first.repeats.median * first.share,
                rig: first.rig,
                measurementIds: first.measurementIds,
              }
            : null,
      };
    });
}

/**
 * What keeps a slow rig from being held against one of its parts: anything else in it that the
 * ledger allows less than the claim, or that no run has shown to carry clearly more.
 *
 * @param slowly the rig, its repeats that stay below the claim, and what the ledger finds of these; null
 *   where a link does not come up
 * @returns null where the part was challenged
 */
export function obstacleTo(
  part: Part,
  claim: JudgedClaim,
  { rig, observed, finding }: { rig: Rig; observed: Repeats; finding: Finding | null },
  { evidence, rates = IN_MB, ...means }: Means & { evidence: Evidence; rates?: RateWords },
): Obstacle | null {
  const { asking } = means;
  const rated = `${rates.said(claim.mbps)} ${DOING[claim.direction]}`;
  const control = () =>
    another(
      part,
      rig,
      claim.mbps,
      `where more than ${rated} would clear every other part of the rig`,
      means,
    );
  if (!finding)
    return { why: "a link of the rig does not come up in the ledger", settle: control() };
  const byOthers = finding.bottleneck.culprits.filter(({ id }) => id !== part.id);
  if (finding.kind === "by protocol") {
    return {
      why: "the rig reaches all that its driver mode gets out of the link",
      settle:
        (finding.through &&
          drivenAsUsual(rig, finding.through, `, which has to give more than ${rated}`, asking)) ??
        control(),
    };
  }
  const [slow] = stagesOf(rig, claim.direction)
    .filter((stage) => stage.ceiling < claim.mbps && !isOwn(stage, part))
    .toSorted((a, b) => Number(b.holds) - Number(a.holds) || a.ceiling - b.ceiling);
  if (slow || (finding.kind === "at bottleneck" && byOthers.length > 0)) {
    const [name, most] = slow
      ? [slow.label, slow.ceiling]
      : [byOthers.map((other) => other.name).join(" and "), finding.bottleneck.ceiling];
    const out = slow && slow.part.id !== part.id ? slow.part : byOthers[0];
    return {
      why: `as the rig stands, ${name} can carry ${rates.said(most)} at most`,
      settle: out
        ? another(out, rig, claim.mbps, `which has to carry clearly more than ${rated}`, means)
        : { text: `Swap ${name} for one that carries clearly more than ${rated}.`, ask: null },
    };
  }
  const unshown = notShown(rig, [part], claim.direction, claim.mbps, evidence);
  if (unshown.length > 0) {
    const names = unshown.map(({ name }) => name);
    return {
      why: `no run shows that ${names.join(", ")} ${names.length === 1 ? "carries" : "carry"} more than ${rates.said(claim.mbps)}`,
      settle: control(),
    };
  }
  const [own] = carriersOf(rig).filter((carrier) => carrier.part?.id === part.id);
  const better = own && showsMore(evidence, own, claim.direction, observed.median * ENDS_DIFFER);
  return better
    ? {
        why: `through ${better.rig.name} it has itself carried ${rates.said(better.repeats.median)}, so here something else held it back`,
        settle: measureIt(
          `Find what differs between ${rig.name} and ${better.rig.name}; measure ${better.rig.name} again to be sure.`,
          better.rig,
          asking,
        ),
      }
    : null;
}

/** What else stands in a rig, and was not shown by runs to carry clearly more than a rate, MB/s. */
export const notShown = (
  rig: Rig,
  but: readonly Part[],
  direction: Direction,
  mbps: number,
  evidence: Evidence,
): Carrier[] =>
  carriersOf(rig).filter(
    (carrier) =>
      !but.some(({ id }) => id === carrier.part?.id) &&
      !directionsThrough(rig, carrier, direction).every((way) =>
        showsMore(evidence, carrier, way, mbps),
      ),
  );

/** By so much one pair of ends gets more out of a link than another: about as wide as attainable bands are. */
const ENDS_DIFFER = 1.2;

/** Whether a stage is as narrow as it is because of one part alone. */
function isOwn({ cause, part: at }: Stage, part: Part): boolean {
  if (cause.kind !== "link") return at.id === part.id;
  const { heldBy, held } = cause.link;
  return held.length === 0 && heldBy.length === 1 && heldBy[0]!.id === part.id;
}
