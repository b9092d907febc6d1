import type { Direction } from "../units/rate";
import { besideLinks, linkAccount, linksOf } from "./link";
import { PART_KIND_NAMES } from "./part";
import { boxOf, LAYOUT_NAMES, type Layout, type Rig } from "./rig";
import { driveStage, linkStage, NOTHING, scaled, type Rates, type Stage } from "./stage";

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

/** How much of what is written above the bays is payload: all of it, where the box adds the rest. */
const payloadShare = ({ layout, layoutBy }: Rig, direction: Direction, drives: number): number =>
  direction === "write" && layoutBy === "host" ? 1 - spareOf(layout, drives) / drives : 1;

/** One drive of several in a box, and the bay that it has to itself. */
interface Member {
  bay: Rates;
  drive: Omit<Stage, "place">;
}

/**
 * Widens the stages below a box's uplink to what all the drives in it carry together. Where the host adds
 * copies or parity, what is above the bays carries them beside the payload that is written.
 */
export function several(rig: Rig, direction: Direction, stages: Stage[]): Stage[] {
  if (rig.beside.length === 0) return stages;
  const links = linksOf(rig);
  const members = [links.at(-1), ...besideLinks(rig)].map((link): Member => ({
    bay: link?.mode ? linkAccount(rig, link, link.mode, direction) : NOTHING,
    drive: driveStage(rig, link?.lower ?? rig.parts.at(-1)!, direction),
  }));
  const box = boxOf(rig.parts);
  const above = links.find(({ lower }) => lower === box);
  const carried = payloadShare(rig, direction, members.length);
  return stages.map((stage): Stage => {
    if (stage.part === rig.parts.at(-1)) return drivesTogether(rig, direction, stage, members);
    if (stage.part !== box || stage.role === "bridge" || stage.role === "network side")
      return carried < 1 ? scaled(stage, carried) : stage;
    const bays = baysTogether(rig, direction, stage, members);
    if (!above || stage.role === "slot" || stage.role === "disk side") return bays;
    // A hub or adapter is one stage: its uplink, or all its bays, whichever is narrower.
    const whole = linkStage(
      rig,
      { part: box, role: stage.role, side: "up", link: above },
      direction,
    );
    const uplink = carried < 1 ? scaled({ ...whole, place: stage.place }, carried) : whole;
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
export function layoutOf({
  beside,
  layout,
  layoutBy,
}: Pick<Rig, "beside" | "layout" | "layoutBy">): string | null {
  if (beside.length === 0) return null;
  const by = layout !== "apart" && layoutBy === "host" ? ", by the host" : "";
  return `${beside.length + 1} ${PART_KIND_NAMES.drive}s, ${LAYOUT_NAMES[layout]}${by}`;
}
