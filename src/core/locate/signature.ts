import { allLinks, transportOn } from "../chain/link";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stage";
import { IN_MB } from "../units/number";
import { DOING, type Direction } from "../units/rate";
import type { Belief } from "./believed";
import { placeKey } from "./explanation";
import type { CauseKind } from "./opinion";
import { observedWith, type Observation } from "./seen";
import { sitesOf, type Site } from "./site";
import type { Trial } from "./trial";

/**
 * Something that was seen of a rig beside its rate, and that some causes would bring about and others
 * would not: it changes how likely each is before the rates are weighed.
 */
export interface Signature {
  text: string;
  measurementIds: readonly string[];
  /** How many times likelier it makes each cause of a site, against one that is on no list. */
  factors: readonly { site: string; kind: CauseKind; factor: number }[];
}

/**
 * How often each cause holds the other direction back too. Links and plugs know no direction; what
 * writes and what reads inside a drive are two things; a file system may cost either way. What is on no
 * list does so as often as not.
 */
const BOTH_WAYS: Record<string, number> = {
  "dropped-mode": 0.97,
  pairing: 0.85,
  fault: 0.85,
  "drive fault": 0.5,
  "own-limit": 0.75,
  "enclosure own-limit": 0.65,
  "drive own-limit": 0.3,
  fileSystem: 0.45,
  transport: 0.85,
  host: 0.6,
  bay: 0.9,
  temperature: 0.9,
};
const AS_OFTEN_AS_NOT = 0.5;

/** Below this share of what good hardware attains a rig is held back; above the other it is not. */
const [HELD, FREE] = [0.8, 0.93];

/** Whether a rig that is held back both ways by a cause, or one way only. */
function bothWays({ kind: of, parts: [part] }: Site, kind: CauseKind): number {
  const own = of === "part" ? `${part!.kind} ${kind}` : of;
  return BOTH_WAYS[own] ?? BOTH_WAYS[kind] ?? AS_OFTEN_AS_NOT;
}

/** The causes that a site can have; see priors. */
const KINDS: Record<Site["kind"], readonly CauseKind[]> = {
  part: ["dropped-mode", "own-limit", "fault"],
  pairing: ["pairing"],
  fileSystem: ["condition"],
  transport: ["condition"],
  host: ["condition"],
  bay: ["condition"],
  temperature: ["condition"],
};

/**
 * What the other direction, and ladders by depth, say of the rigs that are slow in one direction.
 *
 * @param direction that is asked about
 * @param drill by name
 * @param observations of all drills, of one origin's kind
 */
export function signaturesIn(
  observations: readonly Observation[],
  drill: string,
  direction: Direction,
): Signature[] {
  const sound = observations.filter(({ doubtful }) => !doubtful);
  return [
    ...sound.flatMap((one) =>
      one.drill.name === drill && one.drill.direction === direction
        ? otherWay(one, sound, direction)
        : [],
    ),
    ...sound.flatMap(noRise),
  ];
}

/**
 * How likely a rig is held back in the other direction as well, if this is what holds it back in one.
 *
 * @param place as explanations have it, or one that stands for several
 */
export function heldBothWays(
  { sites, bench }: Pick<Belief, "sites" | "bench">,
  place: string,
  trial: Trial,
): number {
  if (trial.ledger.by.some(({ at }) => placeKey(at) === place)) return 0;
  const number = sites.findIndex(({ at }) => placeKey(at) === place);
  if (number < 0) return AS_OFTEN_AS_NOT;
  const kinds = bench.priors[number]!.kinds.map(({ kind, density }) => ({
    both: bothWays(sites[number]!, kind),
    share: density.reduce((sum, value) => sum + value, 0),
  }));
  const all = kinds.reduce((sum, { share }) => sum + share, 0);
  return all > 0
    ? kinds.reduce((sum, { both, share }) => sum + both * share, 0) / all
    : AS_OFTEN_AS_NOT;
}

/** Whether the other direction of a slow rig is held back as well. */
function otherWay(
  slow: Observation,
  all: readonly Observation[],
  direction: Direction,
): Signature[] {
  const back: Direction = direction === "read" ? "write" : "read";
  if (shareOf(slow, direction) >= HELD) return [];
  const other = all.find(
    (one) =>
      one.drill.name === slow.drill.name &&
      one.drill.direction === back &&
      observedWith(one.rig, slow.rig),
  );
  const share = other ? shareOf(other, back) : null;
  if (!other || share === null || (share >= HELD && share < FREE)) return [];
  const held = share < HELD;
  return [
    {
      text: `${slow.rig.name || "The rig"} is ${held ? "held back" : "as it should be"} ${DOING[back]} (${IN_MB.said(other.repeats.median)}).`,
      measurementIds: other.measurementIds,
      factors: sitesOf(slow.rig).flatMap((site) =>
        KINDS[site.kind].map((kind) => {
          const both = bothWays(site, kind);
          const factor = (held ? both : 1 - both) / AS_OFTEN_AS_NOT;
          return { site: site.key, kind, factor };
        }),
      ),
    },
  ];
}

/** Of what good hardware attains at least, how much was seen. */
function shareOf({ rig, repeats }: Observation, direction: Direction): number {
  const attained = stagesOf(rig, direction).map(({ attainable }) => attainable.low);
  return attained.length > 0 ? repeats.median / Math.min(...attained) : 1;
}

/** A driver without queueing shows no rise from one request at a time to many; any other cause leaves one. */
const QUEUEING = { flat: 8, rising: 0.1 };

/** What a ladder by depth says of the driver's mode. */
function noRise({ rig, drill, results, measurementIds }: Observation): Signature[] {
  const fits = results?.flatMap(({ fit }) => (fit?.by === "depth" ? [fit] : [])) ?? [];
  const site = sitesOf(rig).find(({ kind }) => kind === "transport");
  if (drill.name !== "depth-ladder" || fits.length === 0 || !site || !isStorage(rig)) return [];
  const rises = fits.filter((fit) => fit.rises).length > fits.length / 2;
  return [
    {
      text: `${rig.name || "The rig"} ${rises ? "gets faster" : "gets no faster"} with more requests in flight.`,
      measurementIds,
      factors: [
        { site: site.key, kind: "condition", factor: rises ? QUEUEING.rising : QUEUEING.flat },
      ],
    },
  ];
}

/** Whether the driver of a rig could queue, or not, as it is set. */
const isStorage = (rig: Rig) => allLinks(rig).some((link) => transportOn(rig, link) !== null);

/** The factor of several signatures on one cause of a site: of alike ones the strongest alone counts. */
export function factorOf(signatures: readonly Signature[], site: string, kind: CauseKind): number {
  const [up, down] = [[1], [1]] as [number[], number[]];
  for (const { factors } of signatures)
    for (const one of factors)
      if (one.site === site && one.kind === kind) (one.factor > 1 ? up : down).push(one.factor);
  return Math.max(...up) * Math.min(...down);
}
