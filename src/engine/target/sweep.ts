import fs from "node:fs/promises";
import path from "node:path";
import { answering } from "./answering";
import { lockDevices } from "./lock";
import type { EngineEvent } from "@/core/run/protocol";
import { isStamped, PAGE } from "../lanes/stamp";
import { inspectTarget } from "./target";

/** What a run makes on a drive bears this name, with a number of its own. */
export const PREFIX = ".nerrit-scratch-";
const OURS = /^\.nerrit-scratch-[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
/** In every folder of files that a run makes: who made it, and that it may go. */
export const MARKER = ".made-by-nerrit";

/**
 * Removes what a crash may have left: files of our naming that are empty or bear our stamp, and
 * folders of our naming that are empty or have our marker in them. Nothing else is touched, and no link is followed.
 *
 * @returns bytes that are free again
 */
export async function sweep(directory: string): Promise<number> {
  let freed = 0;
  for (const name of await fs.readdir(directory)) {
    if (!OURS.test(name)) continue;
    const place = path.join(directory, name);
    const stat = await fs.lstat(place).catch(() => null);
    // One that was made or emptied in the very moment has no marker; what is not empty stays.
    if (stat?.isDirectory()) await fs.rmdir(place).catch(() => undefined);
    const isOurs = stat?.isDirectory()
      ? (await fs.lstat(path.join(place, MARKER)).catch(() => null))?.isFile()
      : stat?.isFile() && (stat.size === 0 || (await bearsStamp(place)));
    if (!isOurs) continue;
    const bytes = await bytesIn(place);
    await fs.rm(place, { recursive: true, force: true });
    freed += bytes;
  }
  return freed;
}

/**
 * Sweeps the targets of runs that ended with their process, and tells of each how much is free again.
 * One that is not there, does not answer, or is being measured on is left as it is.
 */
export async function sweepTargets(
  targets: readonly string[],
  tell: (event: EngineEvent) => void,
): Promise<EngineEvent> {
  const one = async (target: string) => {
    await answering(target);
    const found = await inspectTarget({ path: target, ...UNUSED });
    const unlock = await lockDevices([found]);
    try {
      tell({ event: "swept", target, bytes: await sweep(target) });
    } finally {
      unlock();
    }
  };
  // Targets of one drive come after each other: the second would find it locked.
  for (const target of targets) await one(target).catch(() => undefined);
  return { event: "done" };
}

/** Nothing is measured, and no room is needed. */
const UNUSED = {
  as: "files",
  io: "buffered",
  reserve: 0,
  room: 0,
  block: 1,
  writes: true,
  keepOff: null,
} as const;

/** Bytes that a file, or all files below a folder, take up; no link is followed. */
async function bytesIn(place: string): Promise<number> {
  const stat = await fs.lstat(place).catch(() => null);
  if (!stat?.isDirectory()) return stat ? stat.blocks * 512 : 0;
  let bytes = 0;
  for (const name of await fs.readdir(place)) bytes += await bytesIn(path.join(place, name));
  return bytes;
}

async function bearsStamp(file: string): Promise<boolean> {
  const handle = await fs
    .open(file, fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW)
    .catch(() => null);
  if (!handle) return false;
  try {
    const page = Buffer.alloc(PAGE);
    const { bytesRead } = await handle.read(page, 0, PAGE, 0);
    return bytesRead === PAGE && isStamped(new DataView(page.buffer, page.byteOffset, PAGE));
  } catch {
    return false;
  } finally {
    await handle.close();
  }
}
