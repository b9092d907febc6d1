import { designed, droppedLinks } from "../chain/designed";
import { bottleneckOf, type Bottleneck } from "../chain/bottleneck";
import { transportOn, usualTransport } from "../chain/link";
import { certaintyOf, degreeOf, type Certainty } from "../locate/findings/certainty";
import type { Standing } from "../locate/findings/standing";
import { placeKey } from "../locate/posterior/explanation";
import type { Direction } from "../units/rate";
import { isMeasured, type LetteredRig, type MeasuredRig } from "./lettered-rig";

/**
 * - impossible: more than the links carry, or memory may have answered
 * - cause: one cause that limits its rigs, at least likely
 * - driver mode: an old driver mode gets no more out of the link
 * - unseparated: one of several causes that the parts at hand cannot tell apart
 * - open: no cause is likely by itself
 * - unweighed: below its ledger, of so many rigs that not each was looked at
 * - designed: at the limit of its links or drive
 * - unmeasured: nothing was measured, or a link does not come up
 */
export type GroupKind =
  | "impossible"
  | "cause"
  | "driver mode"
  | "unseparated"
  | "open"
  | "unweighed"
  | "designed"
  | "unmeasured";

/** Rigs with one and the same finding. */
export interface CauseGroup {
  kind: GroupKind;
  key: string;
  /** The same for one cause in other drills and directions, however sure it is there. */
  cause: string;
  /** The worst first. */
  rigs: readonly LetteredRig[];
  /** How sure the finding is; null where it says nothing uncertain. */
  certainty: Certainty | null;
  /** What its rigs lose against what their parts allow, all together, MB/s. */
  lossMBps: number;
}

/** What is compared with what: needed to say what a rig loses. */
export interface Compared {
  direction: Direction;
  /** Whether the drill asks for small requests, of which the ledger foresees no rate. */
  small: boolean;
}

/** The lowest ceiling of a rig as its parts would have it, also where a link came up slower; null for none. */
export const allowedBy = (one: LetteredRig, direction: Direction): Bottleneck | null =>
  bottleneckOf(designed(one.rig), direction);

/** Groups of which each is a finding about what limits, or an open question about it. */
const FINDINGS: readonly GroupKind[] = ["cause", "driver mode", "unseparated", "open", "unweighed"];
const ORDER: readonly GroupKind[] = ["impossible", ...FINDINGS, "designed", "unmeasured"];

/** Whether a group says what limits its rigs, beside their links. */
export const isFinding = ({ kind }: CauseGroup): boolean => FINDINGS.includes(kind);

/** Whether something is left to find out about a group. */
export const isOpen = ({ kind, certainty }: CauseGroup): boolean =>
  kind === "impossible" ||
  kind === "open" ||
  kind === "unweighed" ||
  kind === "unseparated" ||
  (kind !== "designed" && certainty !== null && certainty.degree !== "shown");

/**
 * Rigs by what their rates come from: what cannot be true first, then the causes by what they cost, then
 * what runs as designed, then what was not measured.
 */
export function groupByCause(rigs: readonly LetteredRig[], compared: Compared): CauseGroup[] {
  const found = new Map<string, LetteredRig[]>();
  for (const one of rigs) {
    const key = keyOf(one);
    found.set(key, [...(found.get(key) ?? []), one]);
  }
  const quickest = Math.max(0, ...rigs.filter(counts).map(rateOf));
  const place = ({ kind }: CauseGroup) => (FINDINGS.includes(kind) ? 1 : ORDER.indexOf(kind) * 2);
  return [...found]
    .map(([key, all]): CauseGroup => {
      const [first] = all as [LetteredRig];
      const losses = all.map((one) => lossOf(one, compared, quickest));
      const chances = all.flatMap(({ standing }) => standing?.likeliest?.probability ?? []);
      return {
        key,
        cause: JSON.stringify([kindOf(first), ...(first.standing ? causeKey(first.standing) : [])]),
        kind: kindOf(first),
        rigs: all.toSorted((a, b) => worth(a) - worth(b)),
        certainty: chances.length > 0 ? certaintyOf(chances) : null,
        lossMBps: losses.reduce((sum, one) => sum + one, 0),
      };
    })
    .toSorted((a, b) => place(a) - place(b) || b.lossMBps - a.lossMBps);
}

const rateOf = ({ observation }: MeasuredRig): number => observation.repeats.median;
const counts = (one: LetteredRig): one is MeasuredRig =>
  isMeasured(one) && kindOf(one) !== "impossible";

/** Rigs of a finding stand with the lowest share first, those as designed with the fastest. */
const worth = (one: LetteredRig): number => {
  if (!isMeasured(one)) return 0;
  return kindOf(one) === "designed" ? -rateOf(one) : one.finding.efficiency;
};

/** What a rig loses, MB/s: against its ledger, or where that foresees no rate against the fastest. */
function lossOf(one: LetteredRig, { direction, small }: Compared, quickest: number): number {
  if (!counts(one)) return 0;
  const allowed = small ? quickest : (allowedBy(one, direction)?.ceiling ?? 0);
  return Math.max(0, allowed - rateOf(one));
}

/** Which finding a rig belongs to. */
export function kindOf(one: LetteredRig): GroupKind {
  if (!isMeasured(one)) return "unmeasured";
  const { finding, standing, observation } = one;
  const likeliest = standing?.likeliest;
  if (likeliest?.kind === "memory-answered") return "impossible";
  if (!likeliest) {
    if (observation.doubtful || finding.kind === "above") return "impossible";
    return finding.kind === "below" ? "unweighed" : "designed";
  }
  if (likeliest.kind === "as-designed" && degreeOf(likeliest.probability) !== "open")
    return isOldDriver(one) ? "driver mode" : "designed";
  if (degreeOf(likeliest.probability) === "open" || likeliest.kind === "nothing") return "open";
  return likeliest.others > 0 ? "unseparated" : "cause";
}

/** Whether a driver mode that is not the usual one of its link is all that limits a rig. */
function isOldDriver({ rig, finding: { kind, through } }: MeasuredRig): boolean {
  return (
    kind === "by protocol" &&
    through !== null &&
    transportOn(rig, through) !== usualTransport(through)
  );
}

/** The same for rigs that one sentence is about. */
function keyOf(one: LetteredRig): string {
  const kind = kindOf(one);
  const { standing, finding } = one;
  switch (kind) {
    case "cause":
      return JSON.stringify([
        kind,
        ...causeKey(standing!),
        degreeOf(standing!.likeliest!.probability),
      ]);
    case "unseparated":
      return JSON.stringify([kind, ...causeKey(standing!), standing!.likeliest!.others]);
    case "open":
      return JSON.stringify([kind, ...causeKey(standing!), standing!.second?.subject]);
    case "driver mode":
      return JSON.stringify([kind, transportOn(one.rig, finding!.through!)]);
    case "designed":
      return JSON.stringify([kind, standing ? degreeOf(standing.likeliest!.probability) : "shown"]);
    default:
      return kind;
  }
}

const causeKey = ({ likeliest }: Standing) => [
  likeliest!.kind,
  placeKey(likeliest!.at),
  likeliest!.subject,
];

/** The slower mode that a link of a rig came up at, or that its rate looks like; null where that is not known. */
export function slowerModeOf({ rig, finding }: LetteredRig): string | null {
  const [dropped] = droppedLinks(rig);
  return dropped?.mode?.short ?? finding?.looksLike?.short ?? null;
}
