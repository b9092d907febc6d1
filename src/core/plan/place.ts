import type { Rig } from "../chain/rig";
import { bareSerial } from "../system/detected";
import { pathsOf, type SeenDrive } from "../system/drive";

/**
 * Where a rig can be measured now: its drive is known by its serial number, else by the place where the
 * plan says it is measured.
 *
 * @param target as the plan says
 * @returns null where nothing that could be the rig is plugged in
 */
export function placeOf(
  rig: Rig,
  target: string,
  drives: readonly SeenDrive[],
): { drive: SeenDrive; path: string } | null {
  const own = [rig.parts.at(-1), rig.parts.at(-2)].flatMap((part) =>
    part && (part.kind === "drive" || part.kind === "enclosure") && part.serial
      ? bareSerial(part.serial)
      : [],
  );
  const here = drives.find((drive) => holds(drive, target));
  if (own.length === 0) return here ? { drive: here, path: target } : null;
  const known = drives.find(({ serials }) =>
    serials.some((serial) => own.includes(bareSerial(serial))),
  );
  if (!known) return null;
  if (holds(known, target)) return { drive: known, path: target };
  const [path] = pathsOf(known);
  return path ? { drive: known, path } : null;
}

/** Whether another drive is at a place than before: it was exchanged, however quickly. */
export function isExchanged(
  before: readonly SeenDrive[],
  now: readonly SeenDrive[],
  target: string,
): boolean {
  const at = (drives: readonly SeenDrive[]) => drives.find((drive) => holds(drive, target));
  const [was, is] = [at(before), at(now)];
  return was !== undefined && is !== undefined && identityOf(was) !== identityOf(is);
}

/** What tells one drive from another; one that was taken out and put in again may get another name. */
const identityOf = ({ id, model, serial, bytes }: SeenDrive): string =>
  JSON.stringify([id, model, serial, bytes]);

/** Whether a path lies on a drive, as far as its mounts tell; "/" holds nothing but itself. */
const holds = ({ places }: SeenDrive, target: string): boolean =>
  places.some(
    ({ device, point }) =>
      device === target ||
      point === target ||
      (point !== null && point !== "/" && target.startsWith(`${point}/`)),
  );
