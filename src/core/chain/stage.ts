import { account, ownAssumptions, type LedgerAccount } from "../ledger/account";
import type { LinkMode } from "../ledger/mode";
import type { Direction } from "../units/rate";
import {
  besideLinks,
  bestMode,
  linkAccount,
  linksOf,
  otherLinks,
  transportOn,
  type Link,
} from "./link";
import { modesOn, PART_KIND_NAMES, type Part } from "./part";
import { boxOf, LAYOUT_NAMES, type Layout, type Rig } from "./rig";

/** Where along the chain a stage stands; the columns of the Narrows drawing. */
export type StageRole =
  | "host port"
  | "cable"
  | "hub"
  | "adapter"
  | "bridge"
  | "network side"
  | "slot"
  | "disk side"
  | "drive";

/** One place the flow passes, and what it can carry there. All rates are MB/s of payload. */
export interface Stage {
  /** Unique within the rig. */
  key: string;
  part: Part;
  /** Where the part stands in the rig's flow (`flowParts`). */
  place: number;
  role: StageRole;
  label: string;
  /** Which way the payload passes here: at the other end of a copy, against the rig's direction. */
  direction: Direction;
  /** Hard ceiling as the rig stands; 0 where the link will not come up. */
  ceiling: number;
  /** What good hardware reaches here as the rig stands. */
  attainable: { low: number; high: number };
  /** The ceiling if all others on the link could follow; above `ceiling` means width lost. */
  own: number;
  /** What others hold of the link here, as far as it narrows this stage. */
  held: number;
  /** Where the ceiling comes from: the link's mode, a limit of the part, or no more than its plug. */
  cause: { kind: "link"; link: Link } | { kind: "limit" } | { kind: "plug" };
  /** Whether this part is one that keeps the flow from being wider here. */
  holds: boolean;
}

type Rates = Pick<LedgerAccount, "hardCeiling" | "attainable">;
type Side = "up" | "down";

/** A limit is a payload figure already; a run is at it from nine tenths up. */
const LIMIT_BAND = 0.9;
const NOTHING: Rates = { hardCeiling: 0, attainable: { low: 0, high: 0 } };

/**
 * The stages of a rig in one direction, from the host down; of a copy, from the drive at its other
 * end up to the host and down again.
 *
 * A box gives two stages, its bridge (towards the host) and its slot (towards the drive); a hub or
 * adapter one, its slower side.
 */
export function stagesOf(rig: Rig, direction: Direction): readonly Stage[] {
  let known = stages.get(rig);
  if (!known) stages.set(rig, (known = {}));
  return (known[direction] ??= makeStages(rig, direction));
}

/** Worked out once for each rig: a study asks again for every run. */
const stages = new WeakMap<Rig, Partial<Record<Direction, Stage[]>>>();

function makeStages(rig: Rig, direction: Direction): Stage[] {
  const here = several(rig, direction, chainStages(rig, rig.parts, linksOf(rig), direction));
  if (rig.other.length === 0) return here;
  const against = direction === "read" ? "write" : "read";
  const there = chainStages(rig, rig.other, otherLinks(rig), against)
    .toReversed()
    .map((stage) => ({
      ...stage,
      key: `other:${stage.key}`,
      place: rig.other.length - 1 - stage.place,
    }));
  const moved = here.map((stage) => ({ ...stage, place: stage.place + rig.other.length }));
  return [...there, ...moved].map((stage) => passedTwice(rig, stage));
}

function chainStages(
  rig: Rig,
  parts: readonly Part[],
  links: readonly Link[],
  direction: Direction,
): Stage[] {
  return parts.flatMap((part, place): Stage[] => {
    const above = links.find(({ lower }) => lower === part);
    const below = links.find(({ upper }) => upper === part);
    const at = (role: StageRole, side: Side, link: Link | undefined, as = part) =>
      link ? [{ ...linkStage(rig, as, role, side, link, direction), part, place }] : [];
    const box = (upper: StageRole, lower: StageRole) => [
      ...at(upper, "up", above),
      ...at(lower, "down", below, { ...part, limits: {} }).map((slot) => ({
        ...slot,
        label: below?.mode?.short ?? lower,
      })),
    ];
    switch (part.kind) {
      case "host-port":
        return at("host port", "down", below);
      case "cable":
        return at(
          "cable",
          "down",
          links.find(({ cables }) => cables.includes(part)),
        );
      case "hub":
      case "adapter":
        return [...at(part.kind, "up", above), ...at(part.kind, "down", below)]
          .toSorted((a, b) => a.ceiling - b.ceiling)
          .slice(0, 1);
      case "enclosure":
        return box("bridge", "slot");
      case "network-box":
        return box("network side", "disk side");
      case "drive":
        return above ? [{ ...driveStage(rig, part, direction), place }] : [];
    }
  });
}

function linkStage(
  rig: Rig,
  part: Part,
  role: StageRole,
  side: Side,
  link: Link,
  direction: Direction,
): Omit<Stage, "place"> {
  const rates = link.mode ? linkAccount(rig, link, link.mode, direction) : NOTHING;
  const free = link.mode ? linkAccount(rig, { ...link, held: [] }, link.mode, direction) : NOTHING;
  const best = bestMode(modesOn(part, side));
  const plug = best ? plugAccount(rig, best, direction) : NOTHING;
  const limit = part.limits[direction] ?? Infinity;
  const limited = limit < rates.hardCeiling;
  return {
    key: `${part.id}:${role}`,
    part,
    role,
    label: part.name,
    direction,
    ceiling: limited ? limit : rates.hardCeiling,
    attainable: limited ? limitBand(limit) : rates.attainable,
    own: Math.min(Math.max(plug.hardCeiling, rates.hardCeiling), limit),
    held: Math.max(0, Math.min(free.hardCeiling, limit) - rates.hardCeiling),
    cause: limited ? { kind: "limit" } : { kind: "link", link },
    holds: limited || link.heldBy.some(({ id }) => id === part.id),
  };
}

/** The drive itself, behind its plug: its native rate where known, else what its plug could carry. */
function driveStage(rig: Rig, part: Part, direction: Direction): Omit<Stage, "place"> {
  const limit = part.limits[direction];
  const best = bestMode(modesOn(part, "up"));
  const ceiling = limit ?? (best ? plugAccount(rig, best, direction).hardCeiling : 0);
  return {
    key: `${part.id}:drive`,
    part,
    role: "drive",
    label: part.name,
    direction,
    ceiling,
    attainable: limitBand(ceiling),
    own: ceiling,
    held: 0,
    cause: { kind: limit === undefined ? "plug" : "limit" },
    holds: limit !== undefined,
  };
}

/** What a plug could carry by itself, accounted as the rig's links are. */
const plugAccount = (rig: Rig, mode: LinkMode, direction: Direction) =>
  account(mode, direction, {
    transport: transportOn(rig, { mode }),
    assumptions: ownAssumptions(mode, rig.assumptions),
  });

const limitBand = (limit: number) => ({ low: limit * LIMIT_BAND, high: limit });

/** Of the drives of a layout, those whose capacity parity or copies take. */
const spareOf = (layout: Layout, drives: number): number =>
  ({
    apart: 0,
    "raid-0": 0,
    "raid-1": drives - 1,
    "raid-5": 1,
    "raid-6": 2,
    "raid-10": drives / 2,
  })[layout];

/**
 * What several members carry together at most, as payload. Striping waits for the slowest; parity and copies
 * are written beside the payload, and need not be read: whole stripes and large requests are meant. Drives
 * apart add up, and so do the readers of a mirror.
 */
export function together(layout: Layout, direction: Direction, rates: readonly number[]): number {
  const least = Math.min(...rates);
  if (layout === "apart" || (layout === "raid-1" && direction === "read"))
    return rates.reduce((total, rate) => total + rate, 0);
  const spare = direction === "write" ? spareOf(layout, rates.length) : 0;
  return least * (rates.length - spare);
}

/**
 * What of that reading surely attains: a disk passes over the parity between its data, and a mirror may read
 * one of its copies only. Two mirrored drives are taken to share their readers, as systems do.
 */
function attainedShare(layout: Layout, direction: Direction, drives: number): number {
  if (direction === "write" || layout === "raid-1") return 1;
  return 1 - spareOf(layout, drives) / drives;
}

/** One drive of several in a box, and the bay that it has to itself. */
interface Member {
  bay: Rates;
  drive: Omit<Stage, "place">;
}

/** Widens the stages below a box's uplink to what all the drives in it carry together. */
function several(rig: Rig, direction: Direction, stages: Stage[]): Stage[] {
  if (rig.beside.length === 0) return stages;
  const links = linksOf(rig);
  const members = [links.at(-1), ...besideLinks(rig)].map((link): Member => ({
    bay: link?.mode ? linkAccount(rig, link, link.mode, direction) : NOTHING,
    drive: driveStage(rig, link?.lower ?? rig.parts.at(-1)!, direction),
  }));
  const box = boxOf(rig.parts);
  const above = links.find(({ lower }) => lower === box);
  return stages.map((stage): Stage => {
    if (stage.part === rig.parts.at(-1)) return drivesTogether(rig, direction, stage, members);
    if (stage.part !== box || stage.role === "bridge" || stage.role === "network side")
      return stage;
    const bays = baysTogether(rig, direction, stage, members);
    if (!above || stage.role === "slot" || stage.role === "disk side") return bays;
    // A hub or adapter is one stage: its uplink, or all its bays, whichever is narrower.
    const uplink = linkStage(rig, box, stage.role, "up", above, direction);
    return uplink.ceiling < bays.ceiling ? { ...uplink, place: stage.place } : bays;
  });
}

/** What one figure of several members comes to when they work together. */
const joined = (rig: Rig, direction: Direction, members: Member[], of: (m: Member) => number) =>
  together(rig.layout, direction, members.map(of));

function baysTogether(rig: Rig, direction: Direction, stage: Stage, members: Member[]): Stage {
  const all = (of: (m: Member) => number) => joined(rig, direction, members, of);
  const ceiling = all(({ bay }) => bay.hardCeiling);
  const attained = attainedShare(rig.layout, direction, members.length);
  return {
    ...stage,
    label: `${members.length} × ${stage.label}`,
    ceiling,
    own: Math.max(stage.own * members.length, ceiling),
    attainable: {
      low: attained * all(({ bay }) => bay.attainable.low),
      high: all(({ bay }) => bay.attainable.high),
    },
  };
}

function drivesTogether(rig: Rig, direction: Direction, stage: Stage, members: Member[]): Stage {
  const all = (of: (m: Member) => number) => joined(rig, direction, members, of);
  const native = all(({ drive }) => drive.ceiling);
  const bays = all(({ bay }) => bay.hardCeiling);
  const each = all(({ bay, drive }) => Math.min(bay.hardCeiling, drive.ceiling));
  // A slow bay and a slow drive that are not the same member bring it below either sum.
  const ceiling = each < Math.min(bays, native) ? each : native;
  const share = native > 0 ? ceiling / native : 0;
  const attained = attainedShare(rig.layout, direction, members.length);
  return {
    ...stage,
    label: `${members.length} drives`,
    ceiling,
    own: native,
    attainable: {
      low: attained * share * all(({ drive }) => drive.attainable.low),
      high: share * all(({ drive }) => drive.attainable.high),
    },
    cause: { kind: members.every(({ drive }) => drive.cause.kind === "limit") ? "limit" : "plug" },
    holds: members.some(({ drive }) => drive.holds),
  };
}

/** In words: "4 drives, RAID 0, striped"; null for a single one. */
export function layoutOf({ beside, layout }: Pick<Rig, "beside" | "layout">): string | null {
  if (beside.length === 0) return null;
  return `${beside.length + 1} ${PART_KIND_NAMES.drive}s, ${LAYOUT_NAMES[layout]}`;
}

/**
 * A copy passes what stands at both of its ends twice: a drive must read and write in turn, and a
 * half-duplex link serves the one or the other.
 */
function passedTwice(rig: Rig, stage: Stage): Stage {
  const twice = (id: string) =>
    rig.parts.some((part) => part.id === id) && rig.other.some((part) => part.id === id);
  const { part, cause, ceiling } = stage;
  const scale = (share: number): Stage => ({
    ...stage,
    ceiling: ceiling * share,
    attainable: { low: stage.attainable.low * share, high: stage.attainable.high * share },
    held: ceiling * (1 - share),
  });
  if (stage.role === "drive") {
    if (!twice(part.id)) return stage;
    const against = driveStage(rig, part, stage.direction === "read" ? "write" : "read").ceiling;
    return scale(against / (against + ceiling));
  }
  if (cause.kind !== "link" || cause.link.mode?.duplex !== "half") return stage;
  return twice(cause.link.lower.id) && twice(cause.link.upper.id) ? scale(1 / 2) : stage;
}
