import fs from "node:fs/promises";
import path from "node:path";
import { formatSize } from "@/core/units/size";
import { deviceBytes, deviceName, deviceNumber, type DeviceNumber } from "./device";
import { mountOf, readMounts, type Mount } from "./mount";
import { Refusal, systemCode } from "../refusal";

/** What a run measures on, once it is known to be fit for it. */
export interface Target {
  kind: "directory" | "device";
  path: string;
  /** The block device below, where there is one. */
  device: DeviceNumber | null;
  deviceName: string | null;
  deviceBytes: number | null;
  mount: Mount | null;
  /** For a directory: what the file system has free for this user, and in all. */
  freeBytes: number | null;
  totalBytes: number | null;
  identity: { dev: number; ino: number };
}

/** What is to be done on a target. */
export interface Use {
  path: string;
  /** A scratch file to measure on; files made in a folder of the run's own; a folder that is only read. */
  as: "scratch" | "files" | "source";
  io: "direct" | "buffered";
  /** Bytes to leave free; null for the larger of 2 % of the file system and 1 GiB. */
  reserve: number | null;
  /** Bytes that will be taken up. */
  room: number;
  /** The largest request. */
  block: number;
  writes: boolean;
  /** Refuse a target on the device that holds this path; null: allow any. */
  keepOff: string | null;
}

/** File systems that are memory: direct I/O through them reaches no drive. */
const MEMORY_FILE_SYSTEMS = new Set(["tmpfs", "ramfs", "devtmpfs"]);
export const isMemory = ({ type }: Mount): boolean => MEMORY_FILE_SYSTEMS.has(type);

/**
 * Looks a target over and refuses it with a plain reason where the job cannot be done on it.
 *
 * @throws Refusal before anything is written
 */
export async function inspectTarget(use: Use): Promise<Target> {
  if (process.platform !== "linux") {
    throw new Refusal("unsupported", "Measuring needs Linux: its direct I/O and device counters.");
  }
  const stat = await look(use.path);
  const target = stat.isBlockDevice()
    ? await inspectDevice(use, stat.rdev)
    : await inspectDirectory(use, stat.dev);
  if (use.keepOff && use.as !== "source") await keepOff(use.keepOff, target);
  return { ...target, identity: { dev: stat.dev, ino: stat.ino } };
}

async function look(target: string) {
  try {
    const stat = await fs.lstat(target);
    if (!stat.isSymbolicLink()) {
      if (stat.isDirectory() || stat.isBlockDevice()) return stat;
      throw new Refusal(
        "not-a-target",
        `${target} is neither a directory nor a block device. Name the directory to measure in.`,
      );
    }
    const followed = await fs.stat(target);
    if (followed.isBlockDevice()) return followed; // /dev/disk/by-id and the like
    throw new Refusal(
      "symbolic-link",
      `${target} is a symbolic link. Name the directory itself: ${await fs.realpath(target)}`,
    );
  } catch (error) {
    if (error instanceof Refusal) throw error;
    if (systemCode(error) === "EACCES") {
      throw new Refusal("no-permission", `${target} may not be looked at by this user.`);
    }
    throw new Refusal(
      "no-such-target",
      `There is no ${target}. Check the path, and that the drive is mounted.`,
    );
  }
}

type Inspected = Omit<Target, "identity">;

async function inspectDevice(use: Use, rdev: number): Promise<Inspected> {
  if (use.as !== "scratch") {
    throw new Refusal(
      "not-a-target",
      `${use.path} is a block device, and files are copied from and to directories. Name a directory on its file system.`,
    );
  }
  if (use.writes) {
    throw new Refusal(
      "device-read-only",
      `${use.path} is a block device, and Nerrit only ever reads those: writing would destroy what is on it. Name a directory on its file system to measure writing.`,
    );
  }
  const device = deviceNumber(rdev);
  const bytes = await deviceBytes(device);
  if (!bytes || bytes < use.block) {
    throw new Refusal(
      "too-small",
      `${use.path} holds ${formatSize(bytes ?? 0)}, less than one block of ${formatSize(use.block)}.`,
    );
  }
  return {
    kind: "device",
    path: use.path,
    device,
    deviceName: await deviceName(device),
    deviceBytes: bytes,
    mount: null,
    freeBytes: null,
    totalBytes: null,
  };
}

async function inspectDirectory(use: Use, dev: number): Promise<Inspected> {
  const real = await fs.realpath(use.path);
  if (real !== path.resolve(use.path)) {
    throw new Refusal(
      "symbolic-link",
      `A part of ${use.path} is a symbolic link. Name the directory itself: ${real}`,
    );
  }
  await checkAccess(use, real);
  const mount = mountOf(real, await readMounts());
  if (use.io === "direct" && mount && isMemory(mount)) {
    throw new Refusal(
      "no-direct-io",
      `${real} is on ${mount.type}, which is memory: direct I/O reaches no drive there. Measure buffered to go on anyway; the run will be flagged.`,
    );
  }
  const space = await fs.statfs(real);
  const free = space.bavail * space.bsize;
  const total = space.blocks * space.bsize;
  if (use.as !== "source") checkSpace(use, real, free, total);
  const device = await deviceBelow(dev, mount);
  return {
    kind: "directory",
    path: real,
    device,
    deviceName: device ? await deviceName(device) : null,
    deviceBytes: device ? await deviceBytes(device) : null,
    mount,
    freeBytes: free,
    totalBytes: total,
  };
}

/** A folder that is only read need not be written in; nothing else is asked of it. */
async function checkAccess({ as }: Use, real: string): Promise<void> {
  const { R_OK, W_OK, X_OK } = fs.constants;
  try {
    await fs.access(real, as === "source" ? R_OK | X_OK : W_OK | X_OK);
  } catch (error) {
    const readOnly = systemCode(error) === "EROFS";
    throw new Refusal(
      "no-permission",
      as === "source"
        ? `This user may not read what is in ${real}.`
        : readOnly
          ? `${real} is on a file system that is mounted read-only.`
          : `This user may not write in ${real}, and measuring needs a scratch file there.`,
    );
  }
}

/** Space kept free unless the tester says otherwise: the larger of 2 % and 1 GiB. */
export const reserveOf = (asked: number | null, total: number) =>
  asked ?? Math.max(0.02 * total, 2 ** 30);

function checkSpace(use: Use, directory: string, free: number, total: number): void {
  const reserve = reserveOf(use.reserve, total);
  const span = use.room;
  if (span + reserve <= free) return;
  const room = Math.max(0, free - reserve);
  throw new Refusal(
    "no-space",
    `${directory} has ${formatSize(free)} free; a span of ${formatSize(span)} and a reserve of ${formatSize(reserve)} do not fit. ${
      room >= 2 ** 20
        ? `Use a span of at most ${formatSize(Math.floor(room / 2 ** 20) * 2 ** 20)}, or a smaller reserve.`
        : "Free some space, or set a smaller reserve."
    }`,
  );
}

/** The block device of a file system; some (btrfs) give files a number of no device, so ask the mount. */
export async function deviceBelow(dev: number, mount: Mount | null): Promise<DeviceNumber | null> {
  const direct = deviceNumber(dev);
  if (await deviceName(direct)) return direct;
  if (!mount?.source.startsWith("/dev/")) return null;
  try {
    const stat = await fs.stat(mount.source);
    return stat.isBlockDevice() ? deviceNumber(stat.rdev) : null;
  } catch {
    return null;
  }
}

async function keepOff(own: string, target: Inspected): Promise<void> {
  try {
    const mine = deviceNumber((await fs.stat(own)).dev);
    if (target.device !== mine) return;
  } catch {
    return;
  }
  throw new Refusal(
    "own-database",
    `${target.path} is on the same drive as Nerrit's own data, so storing the run would disturb the measurement. Confirm to measure it all the same.`,
  );
}
