import { randomUUID } from "node:crypto";
import { closeSync, fstatSync, lstatSync } from "node:fs";
import fs from "node:fs/promises";
import path from "node:path";
import { openFolder, within } from "../copy/tree";
import { native } from "../lanes/native";
import { Refusal, systemCode } from "../refusal";
import { MARKER, PREFIX, sweep } from "./sweep";
import type { Target } from "./target";

/**
 * The file a run reads and writes. It is created new and its name is removed at once, so that the
 * system frees it when the measuring process ends, however it ends: nothing can be left behind. Where
 * a file system has no nameless files, it is removed at the end, and at the next start after a crash.
 */

const DIRECT = fs.constants.O_DIRECT ?? 0;

/** What a run walks over; `close` frees what was made for it. */
export interface Medium {
  target: Target;
  fds: number[];
  /** Bytes of each of the files but the last. */
  fileBytes: number;
  /** What is different about this one, in sentences. */
  notes: string[];
  close(): Promise<void>;
}

/** File systems whose files end below 4 GiB; pieces of 4032 MiB hold whole blocks of any usual size. */
const SHORT_FILES: Record<string, number> = { vfat: 4032 * 2 ** 20, msdos: 4032 * 2 ** 20 };

/**
 * Opens what a run works on: the device for reading, or new nameless files in the directory.
 *
 * @param io direct, or buffered where the tester asked for it
 * @param bytes how much will be walked over
 * @throws Refusal where that cannot be done
 */
export async function openMedium(
  target: Target,
  io: "direct" | "buffered",
  bytes: number,
): Promise<Medium> {
  const direct = io === "direct" ? DIRECT : 0;
  if (target.kind === "device") return openDevice(target, direct);
  const folder = holdTarget(target);
  const fileBytes = SHORT_FILES[target.mount?.type ?? ""] ?? Number.MAX_SAFE_INTEGER;
  const files: Scratch[] = [];
  const close = async () => {
    await Promise.all(files.map((file) => file.close()));
    closeSync(folder);
  };
  try {
    await sweep(within(folder));
    for (let left = bytes; left > 0; left -= fileBytes) {
      files.push(await openScratch(folder, direct));
    }
    const notes = files.some(({ named }) => named)
      ? ["This file system has no nameless files: the scratch file has a name until the run ends."]
      : [];
    for (const [i, file] of files.entries()) {
      const size = Math.min(fileBytes, bytes - i * fileBytes);
      if (!(await giveBlocks(file, size))) {
        notes.push("This file system gives a file its blocks only as they are written.");
      }
    }
    const fds = files.map(({ handle }) => handle.fd);
    return { target, fds, fileBytes, notes: [...new Set(notes)], close };
  } catch (error) {
    await close();
    throw refusalFor(error, target);
  }
}

interface Scratch {
  handle: fs.FileHandle;
  named: boolean;
  close(): Promise<void>;
}

/**
 * Holds a target's directory open. What is made in it goes by its handle, so that nobody who exchanges a
 * folder on the way to it leads a run elsewhere.
 *
 * @throws Refusal where another directory stands there by now
 */
export function holdTarget(target: Target): number {
  const { path: at, identity } = target;
  try {
    const fd = openFolder(at);
    const { dev, ino } = fstatSync(fd);
    if (dev === identity.dev && ino === identity.ino) return fd;
    closeSync(fd);
  } catch (error) {
    if (!["ENOENT", "ENOTDIR", "ELOOP"].includes(systemCode(error) ?? ""))
      throw refusalFor(error, target);
  }
  throw new Refusal(
    "exchanged",
    `${at} was moved or exchanged just now, and nothing was written. Look whether its drive is still there, and begin again.`,
  );
}

async function openScratch(folder: number, direct: number): Promise<Scratch> {
  const { O_RDWR, O_CREAT, O_EXCL, O_NOFOLLOW } = fs.constants;
  const name = within(folder, PREFIX + randomUUID());
  let handle: fs.FileHandle;
  try {
    handle = await fs.open(name, O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW | direct, 0o600);
  } catch (error) {
    await fs.rm(name, { force: true }).catch(() => undefined);
    throw error;
  }
  const named = !(await fs.unlink(name).then(
    () => true,
    () => false,
  ));
  return {
    handle,
    named,
    async close() {
      await handle.close();
      if (named) await fs.rm(name, { force: true });
    },
  };
}

/**
 * Gives a file its blocks, so that writing finds them there and no other program takes them.
 *
 * @returns false where the file system cannot; the file then grows as it is written
 * @throws Error with its code where there is not enough space
 */
export async function giveBlocks(
  { handle }: Pick<Scratch, "handle">,
  bytes: number,
): Promise<boolean> {
  const error = native()?.allocate(handle.fd, bytes) ?? EOPNOTSUPP;
  if (error === ENOSPC) throw Object.assign(new Error("no space"), { code: "ENOSPC" });
  if (error === 0) return true;
  // A hole where the file system has such; one that fills up what lies before the end takes too long.
  return false;
}
const ENOSPC = 28;
const EOPNOTSUPP = 95;

async function openDevice(target: Target, direct: number): Promise<Medium> {
  try {
    const handle = await fs.open(target.path, fs.constants.O_RDONLY | direct);
    return {
      target,
      fds: [handle.fd],
      fileBytes: Number.MAX_SAFE_INTEGER,
      notes: [],
      close: () => handle.close(),
    };
  } catch (error) {
    throw refusalFor(error, target);
  }
}

/** A folder that is held open: what is done in it is done by its handle, whatever stands at its path. */
export interface Held {
  path: string;
  fd: number;
  /** Whether the same folder still stands at its path. */
  isInPlace(): boolean;
  /** Closes it, and removes it with all that is in it where a run made it. */
  close(): Promise<void>;
  /** Closes it and leaves it where it is. */
  leave(): void;
}

/** Holds a tester's own folder open, for reading. @throws Error with the system's code */
export function holdFolder(folder: string): Held {
  const fd = openFolder(folder);
  const leave = () => closeSync(fd);
  const isInPlace = () => isSame(fd, folder);
  return { path: folder, fd, isInPlace, leave, close: async () => leave() };
}

/** Makes a folder of the run's own for files, with a marker that it may go. */
export async function makeFolder(target: Target): Promise<Held> {
  const name = PREFIX + randomUUID();
  const folder = path.join(target.path, name);
  let parent: number | null = null;
  let fd: number | null = null;
  const leave = () => {
    for (const handle of [fd, parent]) if (handle !== null) closeSync(handle);
    [fd, parent] = [null, null];
  };
  const remove = async () => {
    if (fd !== null) await emptied(fd);
    // Only the folder itself: what was put in its place is not the run's.
    if (fd !== null && parent !== null && isSame(fd, within(parent, name)))
      await fs.rmdir(within(parent, name)).catch(() => undefined);
    leave();
  };
  try {
    parent = holdTarget(target);
    await sweep(within(parent));
    await fs.mkdir(within(parent, name), { mode: 0o700 });
    fd = openFolder(within(parent, name));
    await fs.writeFile(within(fd, MARKER), "Made by a run of Nerrit, and removed when it ends.\n", {
      flag: "wx",
    });
    const made = fd;
    return { path: folder, fd: made, isInPlace: () => isSame(made, folder), close: remove, leave };
  } catch (error) {
    await remove().catch(() => undefined);
    throw refusalFor(error, target);
  }
}

/** Whether a folder that is held open is the one that stands at a path; a link there is none. */
export function isSame(fd: number, at: string): boolean {
  const [held, there] = [fstatSync(fd), lstatSync(at, { throwIfNoEntry: false })];
  return there !== undefined && held.dev === there.dev && held.ino === there.ino;
}

/** Removes everything in a folder that is held open; that it may go stands in it to the last. */
async function emptied(fd: number): Promise<void> {
  const names = (await fs.readdir(within(fd))).filter((name) => name !== MARKER);
  for (const name of [...names, MARKER])
    await fs.rm(within(fd, name), { recursive: true, force: true });
}

export function refusalFor(error: unknown, target: Target): Error {
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
      return new Refusal("no-space", `${target.path} has no room for what a run has to write.`);
    default:
      return error instanceof Error ? error : new Error(String(error));
  }
}
