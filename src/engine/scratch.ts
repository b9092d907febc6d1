import { randomUUID } from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import { Refusal, systemCode } from "./refusal";
import type { Target } from "./target";

/**
 * The file a run reads and writes. It is created new and its name is removed at once, so that the
 * system frees it when the measuring process ends, however it ends: nothing can be left behind.
 */

const PREFIX = ".nerrit-scratch-";
const OURS = /^\.nerrit-scratch-[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

const DIRECT = fs.constants.O_DIRECT ?? 0;

/** A file descriptor to measure on; `close` frees the scratch file. */
export interface Medium {
  fd: number;
  close(): Promise<void>;
}

/**
 * Opens what a run works on: the device for reading, or a new nameless file in the directory.
 *
 * @param io direct, or buffered where the tester asked for it
 * @throws Refusal where that cannot be done
 */
export async function openMedium(target: Target, io: "direct" | "buffered"): Promise<Medium> {
  const direct = io === "direct" ? DIRECT : 0;
  if (target.kind === "device") return openDevice(target, direct);
  await sweep(target.path);
  const { O_RDWR, O_CREAT, O_EXCL, O_NOFOLLOW } = fs.constants;
  const name = path.join(target.path, PREFIX + randomUUID());
  try {
    const handle = await fs.open(name, O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | direct, 0o600);
    await fs.unlink(name);
    return { fd: handle.fd, close: () => handle.close() };
  } catch (error) {
    await fs.rm(name, { force: true });
    throw refusalFor(error, target);
  }
}

async function openDevice(target: Target, direct: number): Promise<Medium> {
  try {
    const handle = await fs.open(target.path, fs.constants.O_RDONLY | direct);
    return { fd: handle.fd, close: () => handle.close() };
  } catch (error) {
    throw refusalFor(error, target);
  }
}

/**
 * Removes what a crash between creating a scratch file and removing its name may have left: files
 * of our naming that are still empty. Content is only ever written to files without a name.
 */
async function sweep(directory: string): Promise<void> {
  for (const name of await fs.readdir(directory)) {
    if (!OURS.test(name)) continue;
    const file = path.join(directory, name);
    const stat = await fs.lstat(file).catch(() => null);
    if (stat?.isFile() && stat.size === 0) await fs.rm(file, { force: true });
  }
}

function refusalFor(error: unknown, target: Target): Error {
  switch (systemCode(error)) {
    case "EINVAL":
      return new Refusal(
        "no-direct-io",
        `The file system of ${target.path}${target.mount ? ` (${target.mount.type})` : ""} does not offer direct I/O. Measure buffered to go on anyway; the run will be flagged.`,
      );
    case "EACCES":
    case "EPERM":
    case "EROFS":
      return new Refusal(
        "no-permission",
        target.kind === "device"
          ? `This user may not read ${target.path}.`
          : `This user may not create a file in ${target.path}.`,
      );
    case "ENOSPC":
      return new Refusal("no-space", `${target.path} has no room for even an empty file.`);
    default:
      return error instanceof Error ? error : new Error(String(error));
  }
}
