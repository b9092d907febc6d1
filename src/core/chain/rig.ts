import * as z from "zod";
import { findMode } from "../ledger/catalogue";
import { TransportId } from "../ledger/mode";
import { line } from "../units/text";
import type { Part } from "./part";
import { PhotoRefs } from "./photo-ref";

/** The mode a link really runs at, where that is known better than from its connectors. */
export const SettledMode = z.object({
  /** The part at the link's end towards the drive. */
  partId: z.string(),
  mode: z.string().refine((id) => findMode(id) !== null, "not a link mode that Nerrit knows"),
  /** Read from the system, or declared by the tester. */
  by: z.enum(["system", "tester"]),
});
export type SettledMode = z.infer<typeof SettledMode>;

const HeldRate = z
  .number({ error: "must be a number of MB/s" })
  .nonnegative("must not be negative")
  .max(1_000_000, "is beyond any storage link");

/** What others hold of one link: a display behind the same dock, a neighbour on the same hub. */
export const Held = z.object({
  /** The part at the link's end towards the drive. */
  partId: z.string(),
  what: line(80).min(1, "say what holds it"),
  read: HeldRate,
  write: HeldRate,
});
export type Held = z.infer<typeof Held>;

/**
 * How several drives in one box work together: each by itself, striped, mirrored, or striped with parity.
 *
 * Source: SNIA Common RAID Disk Data Format 2.0, 4.2 (primary RAID levels).
 */
export const Layout = z.enum(["apart", "raid-0", "raid-1", "raid-5", "raid-6", "raid-10"]);
export type Layout = z.infer<typeof Layout>;

export const LAYOUT_NAMES: Record<Layout, string> = {
  apart: "each by itself, all busy at once",
  "raid-0": "RAID 0, striped",
  "raid-1": "RAID 1, mirrored",
  "raid-5": "RAID 5, striped with one parity",
  "raid-6": "RAID 6, striped with two parities",
  "raid-10": "RAID 10, striped over mirrors",
};

/**
 * Who adds the copies and the parity of a layout: the box, below its uplink, or the host, so that they cross
 * the uplink beside the payload.
 */
export const LayoutBy = z.enum(["box", "host"]);
export type LayoutBy = z.infer<typeof LayoutBy>;

export const LAYOUT_BY_NAMES: Record<LayoutBy, string> = {
  box: "by the box or a RAID card",
  host: "by the host, in software",
};

/** Drives that a layout takes at least. */
const LEAST_DRIVES: Record<Layout, number> = {
  apart: 1,
  "raid-0": 2,
  "raid-1": 2,
  "raid-5": 3,
  "raid-6": 4,
  "raid-10": 2,
};

const PartIds = z.array(z.string());

/** A rig as entered: the parts in order from host to drive, and everything around them that counts. */
export const RigDraft = z.object({
  name: line(80).min(1, "give the rig a name"),
  partIds: PartIds.min(2, "a rig needs at least a host port and a drive").max(12),
  /** Command protocol on the host's link; null takes the usual one for that link. */
  transport: TransportId.nullable().default(null),
  /** The drive's own file system; behind a network the one at its far side, which nobody sees from here. */
  fileSystem: line(40).default(""),
  /** As what a share of the network is mounted here: nfs4, smb3; empty where nothing is said. */
  mountedAs: line(40).default(""),
  /** The computer it hangs on. */
  host: line(80).default(""),
  /** The machine at the far side of a network that serves the share, by the name that SSH knows it by. */
  farHost: line(80).default(""),
  settled: z.array(SettledMode).max(24).default([]),
  held: z.array(Held).max(12).default([]),
  /** Further drives in the same box as the last one, and how they work together. */
  besideIds: PartIds.max(23).default([]),
  layout: Layout.default("apart"),
  layoutBy: LayoutBy.default("box"),
  /** Where in its box the drive sits, as printed there; empty where the box has one place only. */
  bay: line(20).default(""),
  /** For a copy: the chain from the host to the drive at its other end; empty for none. */
  otherIds: PartIds.max(12).default([]),
  photos: PhotoRefs,
  /** Values that replace the standard assumptions of its links, by name. */
  assumptions: z.record(z.string().max(40), z.number().positive().max(1e6)).default({}),
});
export type RigDraft = z.infer<typeof RigDraft>;
/** A rig as written in data, with what it leaves out still to be filled in. */
export type RigInput = z.input<typeof RigDraft>;

/** A rig with its parts at hand: what every calculation on a chain starts from. */
export interface Rig extends Omit<RigDraft, "partIds" | "besideIds" | "otherIds"> {
  id: string;
  parts: Part[];
  beside: Part[];
  other: Part[];
}

/** What a rig is where nothing is said of it but its parts. */
export const BARE_RIG = {
  transport: null,
  fileSystem: "",
  mountedAs: "",
  host: "",
  farHost: "",
  settled: [],
  held: [],
  beside: [],
  layout: "apart",
  layoutBy: "box",
  bay: "",
  other: [],
  photos: [],
  assumptions: {},
} satisfies Omit<Rig, "id" | "name" | "parts">;

/** File system and mount of a rig in words: "ext4, mounted as nfs4"; empty where neither is said. */
export const fileSystemOf = ({ fileSystem, mountedAs }: Pick<Rig, "fileSystem" | "mountedAs">) =>
  [fileSystem, mountedAs && `mounted as ${mountedAs}`].filter(Boolean).join(", ");

/** The parts of a rig and nothing else: what can be said of it before it is whole. */
export type Chain = Pick<Rig, "parts"> &
  Partial<Pick<Rig, "beside" | "layout" | "layoutBy" | "other" | "settled" | "held">>;

/** All parts of a rig, in the order in which a copy passes them; without one, from host to drive. */
export const flowParts = ({ parts, other = [] }: Chain): Part[] => [
  ...other.toReversed(),
  ...parts,
];

/** Puts one part in another's place, wherever that stands in a rig. */
export function replacePart<R extends Chain>(rig: R, old: Part, part: Part): R {
  const put = (list: Part[] | undefined) => list?.map((p) => (p.id === old.id ? part : p));
  return { ...rig, parts: put(rig.parts), beside: put(rig.beside), other: put(rig.other) };
}

/**
 * What keeps parts from being a rig, in plain words; empty when nothing does.
 *
 * A chain runs from one host port to one drive, through cables, hubs, adapters and boxes; a cable
 * must have a part at both ends; no part can stand in it twice. A copy has two such chains. Further
 * drives need a box to stand in.
 */
export function rigProblems({ parts, beside = [], layout = "apart", other = [] }: Chain): string[] {
  const problems = chainProblems(parts);
  if (other.length > 0) {
    problems.push(
      ...chainProblems(other).map((problem) => `At the other end of the copy: ${problem}`),
    );
  }
  if (beside.length > 0) {
    const box = boxOf(parts);
    if (!box) problems.push("Several drives need something to hang on: a box, a hub or a port.");
    for (const part of beside) {
      if (part.kind !== "drive") problems.push(`${part.name} is no drive to stand beside another.`);
    }
    const ids = [...parts, ...beside].map(({ id }) => id);
    const twice = beside.find(({ id }) => ids.indexOf(id) !== ids.lastIndexOf(id));
    if (twice) problems.push(`${twice.name} stands in the box twice.`);
    const drives = beside.length + 1;
    if (drives < LEAST_DRIVES[layout])
      problems.push(
        `${LAYOUT_NAMES[layout]} takes at least ${LEAST_DRIVES[layout]} drives; here are ${drives}.`,
      );
  }
  return problems;
}

/** The part that a chain's drive stands in or hangs on. */
export const boxOf = (parts: readonly Part[]): Part | undefined =>
  parts.slice(0, -1).findLast(({ kind }) => kind !== "cable");

function chainProblems(parts: readonly Part[]): string[] {
  const problems: string[] = [];
  if (parts.length === 0) return ["A rig needs parts: start with a host port."];
  if (parts[0]!.kind !== "host-port") {
    problems.push(`A rig starts at a host port, not at ${parts[0]!.name}.`);
  }
  if (parts.at(-1)!.kind !== "drive") {
    problems.push(`A rig ends at a drive, not at ${parts.at(-1)!.name}.`);
  }
  parts.forEach((part, i) => {
    const inner = i > 0 && i < parts.length - 1;
    if (inner && (part.kind === "host-port" || part.kind === "drive")) {
      problems.push(`${part.name} cannot stand in the middle of a rig.`);
    }
    if (part.kind === "cable" && parts[i + 1]?.kind === "cable") {
      problems.push(
        `${part.name} and ${parts[i + 1]!.name} are two cables with nothing between them.`,
      );
    }
    if (parts.findIndex(({ id }) => id === part.id) !== i) {
      problems.push(`${part.name} stands in the rig twice: a chain cannot run in a loop.`);
    }
  });
  return problems;
}
