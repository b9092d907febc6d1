import fs from "node:fs/promises";
import path from "node:path";

/** A block device as the kernel names it: "254:0". */
export type DeviceNumber = string;

/** Splits a device number as glibc's makedev joined it (sysmacros.h). */
export function deviceNumber(dev: number): DeviceNumber {
  const low = BigInt(dev);
  const major = ((low >> 8n) & 0xfffn) | ((low >> 32n) & ~0xfffn);
  const minor = (low & 0xffn) | ((low >> 12n) & ~0xffn);
  return `${major}:${minor}`;
}

const SYS = "/sys/dev/block";

/** Reads one attribute of a block device, trimmed; null where there is none. */
export async function deviceAttribute(
  device: DeviceNumber,
  attribute: string,
): Promise<string | null> {
  try {
    return (await fs.readFile(path.join(SYS, device, attribute), "utf8")).trim();
  } catch {
    return null;
  }
}

/** The kernel's name of a block device ("sda1"); null where it is none. */
export async function deviceName(device: DeviceNumber): Promise<string | null> {
  try {
    return path.basename(await fs.readlink(path.join(SYS, device)));
  } catch {
    return null;
  }
}

/** The whole device that a partition is on; any other device is its own. */
export async function wholeDevice(device: DeviceNumber): Promise<DeviceNumber> {
  if ((await deviceAttribute(device, "partition")) === null) return device;
  return (await deviceAttribute(device, "../dev")) ?? device;
}

/** Bytes a block device holds; null where the kernel does not say. */
export async function deviceBytes(device: DeviceNumber): Promise<number | null> {
  const sectors = await deviceAttribute(device, "size");
  return sectors === null ? null : Number(sectors) * SECTOR;
}

/** The unit of the kernel's counters, whatever the device's own sector (block/stat.rst). */
const SECTOR = 512;

/** Bytes that a device has moved since it appeared, each way. */
export interface DeviceCount {
  read: number;
  written: number;
}

/**
 * What a device has moved, by the kernel's count (fields 3 and 7 of its stat file,
 * Documentation/block/stat.rst); null where it keeps none.
 */
export async function bytesMoved(device: DeviceNumber): Promise<DeviceCount | null> {
  const fields = (await deviceAttribute(device, "stat"))?.split(/\s+/) ?? [];
  const [read, written] = [fields[2], fields[6]];
  if (read === undefined || written === undefined) return null;
  return { read: Number(read) * SECTOR, written: Number(written) * SECTOR };
}
