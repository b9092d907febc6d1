import { TRANSPORT_NAMES } from "../ledger/account";
import type { LinkMode, TransportId } from "../ledger/mode";
import { linksOf, otherLinks, transportOn, type Link } from "./link";
import type { Rig } from "./rig";
import type { Direction } from "../units/rate";

/** Time that one small request spends at a stage, whatever its size; microseconds. */
export interface RequestTime {
  what: string;
  us: number;
  source: string;
}

/**
 * What a protocol adds to a request, from the command going out to the status coming back, without
 * the medium and without the payload's own time on the link. Experience with good hardware, to a
 * factor of about two; a drive behind a bridge compared with the same drive straight in a slot.
 */
const BY_PROTOCOL: Record<TransportId, number> = {
  "usb-queued": 80,
  "usb-unqueued": 120,
  nvme: 8,
  ahci: 25,
  "legacy-ata": 40,
  scsi: 25,
  "sd-card": 150,
  "network-file": 200,
  stated: 0,
};

/** The system's own share: issuing a request and waking up whoever waited for it. */
const HOST: RequestTime = { what: "host software", us: 6, source: "experience: 4 to 10 µs" };

/**
 * High speed USB moves in micro-frames of 125 µs: command, data and status each wait for one.
 * Source: USB 2.0, 8.4.3.1 (frames and microframes); Mass Storage Bulk-Only Transport 1.0, 5.
 */
const MICRO_FRAMES_US = 3 * 125;

/**
 * The times per request along a rig, t0 of the predicted rate. A drive's own time is in it only
 * where it is known.
 */
export function requestTimes(rig: Rig, direction: Direction): RequestTime[] {
  const against = direction === "read" ? "write" : "read";
  return [
    HOST,
    ...chainTimes(rig, linksOf(rig), direction),
    ...chainTimes(rig, otherLinks(rig), against),
  ];
}

function chainTimes(rig: Rig, links: readonly Link[], direction: Direction): RequestTime[] {
  const times: RequestTime[] = [];
  let last: string | null = null;
  for (const link of links) {
    const { mode } = link;
    const protocol = transportOn(rig, link);
    if (!mode || !protocol) continue;
    // One protocol runs over several links in a row, through hubs; it costs once.
    const name = `${protocol}${isHighSpeed(mode) ? " high speed" : ""}`;
    if (name === last) continue;
    last = name;
    times.push({
      what: `${TRANSPORT_NAMES[protocol]} over ${mode.short}`,
      us: BY_PROTOCOL[protocol] + frameTime(mode),
      source: isHighSpeed(mode)
        ? "USB 2.0, 8.4.3.1: three micro-frames, and experience"
        : "experience",
    });
  }
  const drive = links.at(-1)?.lower;
  const own = drive?.kind === "drive" ? drive.requestUs[direction] : undefined;
  if (drive && own) times.push({ what: drive.name, us: own, source: "entered on the shelf" });
  return times;
}

const isHighSpeed = (mode: LinkMode) => mode.family === "usb" && mode.duplex === "half";

/** What a request waits for the frames of a link, microseconds; nothing where it has none. */
export const frameTime = (mode: LinkMode): number => (isHighSpeed(mode) ? MICRO_FRAMES_US : 0);

/** Whether the time of every drive in the flow is known, so that t0 is whole. */
export const driveTimeKnown = (rig: Rig, direction: Direction): boolean => {
  const against = direction === "read" ? "write" : "read";
  const known = (way: Direction, id = rig.parts.at(-1)) => id?.requestUs[way] !== undefined;
  return known(direction) && (rig.other.length === 0 || known(against, rig.other.at(-1)));
};
