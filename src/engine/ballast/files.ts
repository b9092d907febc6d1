import { constants } from "node:fs";
import fs from "node:fs/promises";
import type { EngineEvent } from "@/core/run/protocol";
import { within } from "../copy/tree";
import type { Outside } from "../outside";
import { systemCode } from "../refusal";
import { layOut } from "../steps/lay-out";
import { giveBlocks, refusalFor } from "../target/scratch";
import type { Target } from "../target/target";
import { ballastIn } from "./held";

/** Each file of ballast holds so much at most: within what any file system takes, and little to write anew. */
const FILE_BYTES = 2 ** 30;

const nameOf = (number: number): string => `ballast-${String(number).padStart(5, "0")}`;

/** Takes bytes away from the last files. @param folder handle of the folder of the ballast */
export async function shrink(folder: number, bytes: number): Promise<void> {
  const { files } = (await ballastIn(within(folder)))!;
  let left = bytes;
  for (const file of files.toReversed()) {
    if (left <= 0) return;
    const place = within(folder, file.name);
    if (file.bytes <= left) await fs.rm(place, { force: true });
    else await shorten(place, file.bytes - left);
    left -= file.bytes;
  }
}

/** Cuts a file off; a link in its place is none. */
async function shorten(place: string, bytes: number): Promise<void> {
  const handle = await fs.open(place, constants.O_WRONLY | constants.O_NOFOLLOW);
  try {
    await handle.truncate(bytes);
  } finally {
    await handle.close();
  }
}

/**
 * Writes more files.
 *
 * @param folder handle of the folder of the ballast
 * @returns how many bytes were written: fewer where it was stopped
 * @throws RunFailure where the drive fails; the file that was being written is removed
 */
export async function grow(
  folder: number,
  target: Target,
  bytes: number,
  { stop, tell }: Outside,
): Promise<number> {
  const { files } = (await ballastIn(within(folder)))!;
  let number = Number(files.at(-1)?.name.slice(-5) ?? -1) + 1;
  let written = 0;
  const telling = (event: EngineEvent) => {
    const done = event.event === "preparing" ? written + event.bytes : 0;
    if (event.event === "preparing") tell({ ...event, bytes: done, total: bytes });
  };
  while (written < bytes) {
    const size = Math.min(FILE_BYTES, bytes - written);
    const place = within(folder, nameOf(number));
    await writeFile(place, size, target, { stop, tell: telling });
    if (stop.aborted) {
      // Its blocks are taken, but the drive has not all of it.
      await fs.rm(place, { force: true });
      break;
    }
    written += size;
    number += 1;
  }
  return written;
}

async function writeFile(
  place: string,
  bytes: number,
  target: Target,
  outside: Outside,
): Promise<void> {
  const handle = await openNew(place, target);
  try {
    await giveBlocks({ handle }, bytes);
    const medium = {
      target,
      fds: [handle.fd],
      fileBytes: FILE_BYTES,
      notes: [],
      close: async () => undefined,
    };
    const run = (Math.random() * 2 ** 32) >>> 0;
    await layOut(medium, bytes, { run, compressible: 0, doing: "writing ballast" }, outside);
  } catch (error) {
    await fs.rm(place, { force: true });
    throw refusalFor(error, target);
  } finally {
    await handle.close();
  }
}

/** Opens a new file past the page cache, or through it where a file system has no direct I/O. */
async function openNew(place: string, target: Target): Promise<fs.FileHandle> {
  const { O_RDWR, O_CREAT, O_EXCL, O_NOFOLLOW, O_DIRECT } = constants;
  const flags = O_RDWR | O_CREAT | O_EXCL | O_NOFOLLOW;
  try {
    return await fs.open(place, flags | (O_DIRECT ?? 0), 0o600);
  } catch (error) {
    if (systemCode(error) !== "EINVAL") throw refusalFor(error, target);
    // Where that failed the name may have been made all the same.
    await fs.rm(place, { force: true });
    return fs.open(place, flags, 0o600);
  }
}
