import fs from "node:fs/promises";
import type { KnownCache, TargetFacts } from "@/core/drills/parameter";
import { answering } from "./answering";
import { deviceAttribute, deviceBytes, deviceNumber, wholeDevice } from "./device";
import { deviceBelow, reserveOf } from "./target";
import { mountOf, readMounts } from "./mount";

/**
 * What the usual settings of a drill follow from, looked up without touching the target.
 *
 * @param reserve bytes to leave free; null for the usual
 * @param cache the drive's write cache, where something is known of it
 * @returns null where there is no such directory or device
 * @throws Refusal where it does not answer
 */
export async function targetFacts(
  target: string,
  reserve: number | null = null,
  cache: KnownCache | null = null,
): Promise<TargetFacts | null> {
  await answering(target);
  try {
    const stat = await fs.stat(target);
    if (stat.isBlockDevice()) {
      const device = deviceNumber(stat.rdev);
      const bytes = await deviceBytes(device);
      return bytes === null
        ? null
        : { kind: "device", room: bytes, smallestBlock: await smallestBlock(device), cache };
    }
    if (!stat.isDirectory()) return null;
    const space = await fs.statfs(target);
    const room = space.bavail * space.bsize - reserveOf(reserve, space.blocks * space.bsize);
    const real = await fs.realpath(target);
    const device = await deviceBelow(stat.dev, mountOf(real, await readMounts()));
    return {
      kind: "directory",
      room: Math.max(0, room),
      space: { free: space.bavail * space.bsize, total: space.blocks * space.bsize },
      smallestBlock: device ? await smallestBlock(device) : null,
      cache,
    };
  } catch {
    return null;
  }
}

/** Documentation/ABI/stable/sysfs-block: the smallest unit the device can address. */
export async function smallestBlock(device: string): Promise<number | null> {
  const bytes = Number(
    await deviceAttribute(await wholeDevice(device), "queue/logical_block_size"),
  );
  return bytes > 0 ? bytes : null;
}
