import { keptModes } from "../chain/kept-modes";
import { transportOn, usualTransport, type Link } from "../chain/link";
import { PART_KIND_NAMES, type Part } from "../chain/part";
import { replacePart, rigProblems, type Rig } from "../chain/rig";
import { stagesOf } from "../chain/stages";
import { DRILLS } from "../drills/catalogue";
import type { Shows } from "../drills/kind";
import { TRANSPORT_NAMES } from "../ledger/account";
import { setUpKey } from "../chain/set-up";
import { linkProblems } from "../chain/bottleneck";
import type { Ask, AskedRig } from "../study/asked-rig";
import type { Direction } from "../units/rate";

/** One step that would settle an open verdict. */
export interface Settle {
  text: string;
  /** What a plan of it measures; null where the parts for it are not at hand. */
  ask: Ask | null;
}

/** What is asked of a rig for a claim: the drill that shows it, in its direction. */
export interface Asking {
  shows: Shows;
  direction: Direction;
  set?: Ask["set"];
  /** Rigs that were measured so already: no step makes one of them again. */
  measured?: readonly Rig[];
}

/** To measure a rig as it stands. */
export const measureIt = (text: string, rig: Rig, asking: Asking): Settle => ({
  text,
  ask: askOf({ like: rig.id }, asking),
});

/**
 * To measure a rig with one of its links driven as such links usually are.
 *
 * @param why what a run so would show, to follow the driver mode
 * @returns null where it is driven so already
 */
export function drivenAsUsual(rig: Rig, link: Link, why: string, asking: Asking): Settle | null {
  const usual = usualTransport(link);
  if (!usual || transportOn(rig, link) === usual) return null;
  return {
    text: `Measure ${rig.name} driven by ${TRANSPORT_NAMES[usual]}${why}.`,
    ask: askOf({ like: rig.id, transport: usual }, asking),
  };
}

function askOf(rig: AskedRig, { shows, direction, set }: Asking): Ask | null {
  const drill = DRILLS.find(
    (kind) => kind.shows.includes(shows) && kind.directions.includes(direction),
  );
  return drill ? { rig, drill: drill.name, direction, ...(set && { set }) } : null;
}

/** What steps are taken with: the parts at hand, and what a step is to measure. */
export interface Means {
  shelf: readonly Part[];
  asking: Asking;
}

/**
 * To put another item of its kind in place of a part: the one on the shelf after which the ledger lets
 * most through, if that is more than a rate and the rig that it makes was not measured already.
 *
 * @param mbps what the rest of the rig is to be able to carry, MB/s
 * @param why what a run with it would show, to follow the name of the part
 */
export function another(
  part: Part,
  rig: Rig,
  mbps: number,
  why: string,
  { shelf, asking }: Means,
): Settle {
  const used = new Set([...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id));
  const done = new Set((asking.measured ?? []).map(setUpKey));
  const able = shelf
    .filter(({ id, kind }) => kind === part.kind && !used.has(id))
    .map((put) => ({ put, made: keptModes(replacePart(rig, part, put), rig) }))
    .map((one) => ({ ...one, most: ceilingOf(one.made, asking.direction) }))
    .filter(({ most }) => most > mbps)
    .toSorted((a, b) => b.most - a.most);
  const best = able.find(({ made }) => !done.has(setUpKey(made)));
  const kind = PART_KIND_NAMES[part.kind];
  if (!best)
    return {
      text: `Put another ${kind} in place of ${part.name}, ${why}. ${able.length > 0 ? "All that the shelf has were tried" : "The shelf has none that could"}; borrow one.`,
      ask: null,
    };
  const parts = replacePart(rig, part, best.put).parts.map(({ id }) => id);
  return {
    text: `Put ${best.put.name} (another ${kind}) in place of ${part.name}, ${why}.`,
    ask: askOf({ like: rig.id, parts }, asking),
  };
}

/** The lowest ceiling of a rig, MB/s; 0 where it makes none. */
function ceilingOf(rig: Rig, direction: Direction): number {
  if (rigProblems(rig).length > 0 || linkProblems(rig).length > 0) return 0;
  return Math.min(...stagesOf(rig, direction).map(({ ceiling }) => ceiling));
}

/**
 * To put a part that stands in no rig into one, in place of another of its kind.
 *
 * @param rigs of the study
 */
export function putInto(part: Part, rigs: readonly Rig[], asking: Asking): Settle {
  for (const rig of rigs) {
    const out = rig.parts.find(({ kind }) => kind === part.kind);
    if (!out) continue;
    const made = replacePart(rig, out, part);
    if (ceilingOf(made, asking.direction) === 0) continue;
    return {
      text: `Put ${part.name} into ${rig.name || "a rig"} in place of ${out.name}, and measure it.`,
      ask: askOf({ like: rig.id, parts: made.parts.map(({ id }) => id) }, asking),
    };
  }
  return { text: `Put ${part.name} into a rig and measure it.`, ask: null };
}
