import * as z from "zod";
import { TransportId } from "../ledger/mode";
import { CableChip } from "./cable-chip";

/**
 * What the operating system knows of the way from the host to a drive. Everything in it was read;
 * each fact names the file it came from, below the root that was looked at.
 */

export const Fact = z.object({ what: z.string(), value: z.string(), from: z.string() });
export type Fact = z.infer<typeof Fact>;

/** A link as the system reports it, towards the host. */
export const SeenLink = z.object({
  /** Nerrit's mode for it; null where the words fit none. */
  mode: z.string().nullable(),
  /** As the system says it: "8.0 GT/s PCIe ×2". */
  now: z.string(),
  /** The most that this end says it can do; null where it does not say. */
  mostMode: z.string().nullable(),
  most: z.string().nullable(),
  from: z.array(z.string()),
});
export type SeenLink = z.infer<typeof SeenLink>;

/** One thing on the way: a controller, a port, a hub, a bridge, a drive. */
export const SeenNode = z.object({
  kind: z.enum([
    "pci-controller",
    "pcie-port",
    "usb-root",
    "usb-hub",
    "usb-device",
    "sata-port",
    "sata-multiplier",
    "pata-port",
    "sas-port",
    "sas-expander",
    "thunderbolt",
    "nvme",
    "memory-card",
    "usb-cable",
    "disk",
    "network-interface",
    "network-share",
  ]),
  /** What a tester would call it. */
  name: z.string(),
  /** Its directory. */
  at: z.string(),
  maker: z.string().nullable(),
  model: z.string().nullable(),
  serial: z.string().nullable(),
  link: SeenLink.nullable(),
  driver: z.string().nullable(),
  facts: z.array(Fact),
});
export type SeenNode = z.infer<typeof SeenNode>;

/** One fact of a node; undefined where it has none of that name. */
export const factOf = ({ facts }: Pick<SeenNode, "facts">, what: string): Fact | undefined =>
  facts.find((fact) => fact.what === what);

/** A block device between the file system and the disk, or the disk itself. */
export const SeenBlock = z.object({
  name: z.string(),
  /** MAJOR:MINOR */
  number: z.string(),
  kind: z.enum(["disk", "partition", "loop", "device-mapper", "raid", "memory"]),
  bytes: z.number().nullable(),
  /** Names of the block devices it lies on; for a loop device, those below its backing file. */
  over: z.array(z.string()),
  facts: z.array(Fact),
});
export type SeenBlock = z.infer<typeof SeenBlock>;

/** The way to one disk or share, from the host down. */
export const SeenWay = z.object({
  /** The disk's name, or the share's. */
  end: z.string(),
  nodes: z.array(SeenNode),
  /** How requests travel, where the driver tells. */
  transport: TransportId.nullable(),
});
export type SeenWay = z.infer<typeof SeenWay>;

/** A cable with a chip in a USB-C socket, and what it says of itself. */
export const SeenCable = z.object({
  /** The USB-C socket: "port0". */
  port: z.string(),
  at: z.string(),
  type: z.string().nullable(),
  plug: z.string().nullable(),
  /** Null where it has not told who it is. */
  chip: CableChip.nullable(),
  /** Directory of the device on the way that hangs on it; null where the firmware does not tell. */
  holds: z.string().nullable(),
});
export type SeenCable = z.infer<typeof SeenCable>;

export const SystemFinding = z.object({
  what: z.enum([
    "link below its maximum",
    "no queueing",
    "write cache off",
    "runs slower than the device is made for",
    "may run slower than the device is made for",
    "slow device in a fast socket",
    "several on one uplink",
    "half duplex",
    "device missing",
  ]),
  text: z.string(),
  from: z.array(z.string()),
});
export type SystemFinding = z.infer<typeof SystemFinding>;

export const SystemReport = z.object({
  format: z.literal("nerrit-system"),
  version: z.literal(1),
  path: z.string(),
  /** "/" for this machine; else the directory that stood in for it. */
  root: z.string(),
  kind: z.enum(["directory", "device"]),
  mount: z
    .object({
      point: z.string(),
      type: z.string(),
      options: z.string(),
      source: z.string(),
      from: z.string(),
    })
    .nullable(),
  blocks: z.array(SeenBlock),
  ways: z.array(SeenWay),
  /** Cables that say themselves what they are, in any of the system's sockets. */
  cables: z.array(SeenCable).default([]),
  /** How several disks are joined: the level as the system names it. */
  raid: z.object({ level: z.string(), from: z.string() }).nullable(),
  findings: z.array(SystemFinding),
  /** What could not be read, and why: never silently left out. */
  gaps: z.array(z.object({ what: z.string(), from: z.string(), why: z.string() })),
});
export type SystemReport = z.infer<typeof SystemReport>;
