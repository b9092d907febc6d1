import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { bareSerial } from "./detected";
import type { SeenDrive } from "./drive";

/** A rig that seems to be plugged in. */
export interface PluggedRig {
  rig: Rig;
  /** Whether every part that could have a serial number was seen by it. */
  sure: boolean;
}

/** Parts that have no serial number that a system could see. */
const UNSEEN: Part["kind"][] = ["host-port", "cable"];

/**
 * The rigs that a drive may belong to as it is plugged in now: those of whose parts every one with a
 * serial number is seen on the way to it, the drive or its box among them. Several rigs can share their
 * parts and differ in a cable alone, which no system sees.
 *
 * @param hosts names of other machines: a rig of one is plugged in there and not here
 */
export function rigsOf(
  drive: Pick<SeenDrive, "serials" | "host">,
  rigs: readonly Rig[],
  hosts: readonly string[] = [],
): PluggedRig[] {
  const seen = new Set(drive.serials.map(bareSerial).filter(Boolean));
  const isSeen = ({ serial }: Part) => serial !== "" && seen.has(bareSerial(serial));
  const isElsewhere = ({ host }: Rig) =>
    drive.host === undefined ? hosts.includes(host) : host !== drive.host;
  return rigs.flatMap((rig) => {
    if (isElsewhere(rig)) return [];
    const visible = rig.parts.filter(({ kind }) => !UNSEEN.includes(kind));
    const known = visible.filter(({ serial }) => serial !== "");
    const ends = known.some(({ kind }) => kind === "drive" || kind === "enclosure");
    if (!ends || !known.every(isSeen)) return [];
    // A box and a drive of one serial number are seen as one.
    return [{ rig, sure: known.length === visible.length }];
  });
}
