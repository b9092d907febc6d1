import { account, ownAssumptions, type LedgerAccount } from "../ledger/account";
import { findMode, modeOf } from "../ledger/catalogue";
import { LINE_CODES } from "../ledger/line-code";
import type { LinkMode, TransportId } from "../ledger/mode";
import type { Direction } from "../units/rate";
import { connectorsOn, modesOn, type Connector, type Part } from "./part";
import { boxOf, type Chain, type Held, type Rig, type SettledMode } from "./rig";
import { fits, SHAPES } from "./shape";

/** One link of a chain: a part, the cables on the way, and the next part. */
export interface Link {
  upper: Part;
  cables: Part[];
  lower: Part;
  /** The mode it runs at: as settled where that is known, else as negotiated; null: none. */
  mode: LinkMode | null;
  /** The best mode by data rate that both ends and every cable share; null: it will not link. */
  negotiated: LinkMode | null;
  /** Who says that it runs at another mode than the negotiated one. */
  settledBy: SettledMode["by"] | null;
  /** The parts that can run no better mode than this one: what keeps the link from more. */
  heldBy: Part[];
  /** What others hold of it. */
  held: Held[];
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

/** Whether one mode carries less data than another. */
export const isSlower = (a: LinkMode, b: LinkMode) => preference(a) < preference(b);

/** Splits a rig's chain into its links, from the host down, and settles each. */
export function linksOf(rig: Chain): readonly Link[] {
  let known = links.get(rig);
  if (!known) links.set(rig, (known = makeLinks(rig)));
  return known;
}

/** Worked out once for each rig. */
const links = new WeakMap<Chain, Link[]>();

function makeLinks(rig: Chain): Link[] {
  const links: Link[] = [];
  let upper: Part | null = null;
  let cables: Part[] = [];
  for (const part of rig.parts) {
    if (part.kind === "cable") {
      cables.push(part);
      continue;
    }
    if (upper) links.push(settle(rig, upper, cables, part));
    upper = part;
    cables = [];
  }
  return links;
}

/** The links from the box to each further drive in it. */
export function besideLinks(rig: Chain): Link[] {
  const box = boxOf(rig.parts);
  return box ? (rig.beside ?? []).map((drive) => settle(rig, box, [], drive)) : [];
}

/** The links of a copy's other end, from the host down; none where the rig is no copy. */
export const otherLinks = (rig: Chain): readonly Link[] =>
  linksOf({ ...rig, parts: rig.other ?? [] });

/** Every link of a rig. */
export const allLinks = (rig: Chain): readonly Link[] => [
  ...linksOf(rig),
  ...besideLinks(rig),
  ...otherLinks(rig),
];

/**
 * The link whose command protocol the host's driver chooses: the first that offers several. Behind a
 * network box that is the box's own matter.
 */
export function drivenLink(rig: Chain): Link | null {
  const found = [linksOf(rig), otherLinks(rig)].flatMap((links) => {
    const box = links.findIndex(({ upper }) => upper.kind === "network-box");
    return box < 0 ? links : links.slice(0, box);
  });
  return found.find(({ mode }) => (mode?.transports.length ?? 0) > 1) ?? null;
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

/** The command protocol of a link: the rig's where the link offers it, else the link's usual one. */
export function transportOn(
  rig: Pick<Rig, "transport">,
  link: Pick<Link, "mode">,
): TransportId | undefined {
  const offers = link.mode?.transports.map(({ id }) => id) ?? [];
  return rig.transport && offers.includes(rig.transport) ? rig.transport : offers[0];
}

/** The protocol that a link runs unless somebody says otherwise. */
export const usualTransport = ({ mode }: Pick<Link, "mode">): TransportId | undefined =>
  mode?.transports[0]?.id;

/** The ledger of a link as it runs in a rig: its protocol, the rig's assumptions, what others hold. */
export function linkAccount(
  rig: Pick<Rig, "transport" | "assumptions">,
  link: Link,
  mode: LinkMode,
  direction: Direction,
): LedgerAccount {
  const both = mode.duplex === "half";
  const held = link.held.reduce(
    (sum, { read, write }) => sum + (both ? read + write : direction === "read" ? read : write),
    0,
  );
  return account(mode, direction, {
    transport: transportOn(rig, { mode }),
    assumptions: ownAssumptions(mode, rig.assumptions),
    held,
  });
}

function shared(lists: (readonly string[])[]): string[] {
  const [first = [], ...rest] = lists;
  return first.filter((id) => rest.every((list) => list.includes(id)));
}

function settle(rig: Chain, upper: Part, cables: Part[], lower: Part): Link {
  const link = negotiate(upper, cables, lower);
  const held = (rig.held ?? []).filter(({ partId }) => partId === lower.id);
  const said = (rig.settled ?? []).find(({ partId }) => partId === lower.id);
  const mode = said && findMode(said.mode);
  if (!mode || mode.id === link.negotiated?.id) return { ...link, held };
  // Which part made it settle there is not known: any of them could have.
  const heldBy = [upper, ...cables, lower];
  return { ...link, held, mode, settledBy: said.by, heldBy, problem: null };
}

function negotiate(upper: Part, cables: Part[], lower: Part): Omit<Link, "held"> {
  const base = { upper, cables, lower, settledBy: null };
  const joined = joints(upper, cables, lower);
  const mode = bestMode(joined.flatMap(shared));
  const ends = offered(base);
  if (!mode) {
    const problem = joined.length === 0 ? misfit(upper, cables, lower) : oddOneOut(ends);
    return { ...base, mode, negotiated: null, heldBy: [], problem };
  }
  const holders = ends.filter(([, modes]) => preference(bestMode(modes)!) === preference(mode));
  const heldBy = (holders.length > 0 ? holders : ends).map(([part]) => part);
  return { ...base, mode, negotiated: mode, heldBy, problem: null };
}

/** Every way to put the ends of a link together whose shapes fit, as the modes along it. */
function joints(upper: Part, cables: Part[], lower: Part): (readonly string[])[][] {
  const through = cables.flatMap((cable) => connectorsOn(cable, "down").slice(0, 1));
  const near = (below: Connector) => (through[0] ?? below).shape;
  return connectorsOn(upper, "down").flatMap((above) =>
    connectorsOn(lower, "up")
      .filter((below) => fits(above.shape, near(below)))
      .filter((below) => fits(through.at(-1)?.farShape, below.shape))
      .map((below) => [above.modes, ...through.map(({ modes }) => modes), below.modes]),
  );
}

function misfit(upper: Part, cables: Part[], lower: Part): string {
  const names = (connectors: readonly Connector[], far = false) =>
    connectors.map((c) => shapeName(far ? c.farShape : c.shape)).join(" or ");
  const chain = [upper, ...cables, lower];
  const pieces = chain.map((part, i) => {
    if (part.kind === "cable") {
      const own = connectorsOn(part, "down");
      return `${part.name} has ${names(own)} and ${names(own, true)}`;
    }
    return `${part.name} has ${names(connectorsOn(part, i === 0 ? "down" : "up"))}`;
  });
  return `will not plug together: ${pieces.join(", ")}`;
}

const shapeName = (shape: Connector["shape"]) => (shape ? SHAPES[shape].name : "any shape");

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
