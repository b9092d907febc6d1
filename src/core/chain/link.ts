import { modeOf } from "../ledger/catalogue";
import { LINE_CODES } from "../ledger/line-code";
import type { LinkMode } from "../ledger/mode";
import { modesOn, type Part } from "./part";
import type { Rig } from "./rig";

/** One link of a chain: a part, the cables on the way, and the next part. */
export interface Link {
  upper: Part;
  cables: Part[];
  lower: Part;
  /** The mode both ends and every cable share, the best by data rate; null: it will not link. */
  mode: LinkMode | null;
  /** The parts that can run no better mode than this one: what keeps the link from more. */
  heldBy: Part[];
  /** Said when the link will not come up: which part is the odd one out, and why. */
  problem: string | null;
}

/** Data bits per second on all lanes: ports settle on the most they share. */
const preference = (mode: LinkMode) =>
  mode.gigatransfers * mode.lanes * LINE_CODES[mode.lineCode].share;

/** The best of several modes as real ports negotiate them; null for none. */
export function bestMode(ids: Iterable<string>): LinkMode | null {
  let best: LinkMode | null = null;
  for (const id of ids) {
    const mode = modeOf(id);
    if (!best || preference(mode) > preference(best)) best = mode;
  }
  return best;
}

/** Splits a rig into its links, from the host down, and negotiates each. */
export function linksOf(rig: Pick<Rig, "parts">): Link[] {
  const links: Link[] = [];
  let upper: Part | null = null;
  let cables: Part[] = [];
  for (const part of rig.parts) {
    if (part.kind === "cable") {
      cables.push(part);
      continue;
    }
    if (upper) links.push(negotiate(upper, cables, part));
    upper = part;
    cables = [];
  }
  return links;
}

/** The modes a part offers to one link: its lower side where it is the upper end, and so on. */
export function offered(
  link: Pick<Link, "upper" | "cables" | "lower">,
): [Part, readonly string[]][] {
  return [
    [link.upper, modesOn(link.upper, "down")],
    ...link.cables.map((cable): [Part, readonly string[]] => [cable, modesOn(cable, "down")]),
    [link.lower, modesOn(link.lower, "up")],
  ];
}

function shared(lists: (readonly string[])[]): string[] {
  const [first = [], ...rest] = lists;
  return first.filter((id) => rest.every((list) => list.includes(id)));
}

function negotiate(upper: Part, cables: Part[], lower: Part): Link {
  const ends = offered({ upper, cables, lower });
  const mode = bestMode(shared(ends.map(([, modes]) => modes)));
  if (!mode) {
    return { upper, cables, lower, mode, heldBy: [], problem: oddOneOut(ends) };
  }
  const holders = ends.filter(([, modes]) => preference(bestMode(modes)!) === preference(mode));
  const heldBy = (holders.length > 0 ? holders : ends).map(([part]) => part);
  return { upper, cables, lower, mode, heldBy, problem: null };
}

function oddOneOut(ends: [Part, readonly string[]][]): string {
  const names = ends.map(([part]) => part.name);
  const whole = `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;
  if (ends.length > 2) {
    for (const [part] of ends) {
      const others = ends.filter(([other]) => other !== part);
      const common = bestMode(shared(others.map(([, modes]) => modes)));
      if (common) {
        return `will not link: ${part.name} shares no mode with the others, which have ${common.name} in common`;
      }
    }
  }
  return `will not link: ${whole} have no mode in common`;
}
