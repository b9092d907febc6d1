import { createHash } from "node:crypto";
import fs from "node:fs/promises";
import path from "node:path";
import * as z from "zod";
import { BALLAST_FOLDER, type Ballast, type Room } from "@/core/ballast/ballast";
import { systemCode } from "../refusal";
import { stateFolder } from "../state-folder";
import { answering } from "../target/answering";
import { readMounts } from "../target/mount";
import { ballastIn } from "./held";

/** Ballast as it was found on a drive of this machine. */
export interface FoundBallast extends Ballast {
  /** The directory that it was asked for in. */
  target: string;
  /** Of its file system. */
  room: Room;
}

const Note = z.object({ target: z.string().startsWith("/") });

/** The directories in which this user's programs have put ballast: it lies on the machine's own drives. */
const notesFolder = () => stateFolder("ballast");

const noteOf = (target: string): string =>
  path.join(
    /* turbopackIgnore: true */
    notesFolder(),
    `${createHash("sha256").update(target).digest("hex").slice(0, 16)}.json`,
  );

/**
 * Notes that ballast is put into a directory, so that the ballast is found again after a crash. Where nothing
 * can be noted, on a full or read-only disk, the ballast is found by naming the directory.
 */
export async function noteBallast(target: string): Promise<void> {
  try {
    await fs.mkdir(notesFolder(), { recursive: true, mode: 0o700 });
    await fs.writeFile(noteOf(target), `${JSON.stringify({ target })}\n`);
  } catch (error) {
    if (systemCode(error) === null) throw error;
  }
}

/** Forgets a directory that has no ballast any more. */
export const forgetBallast = (target: string): Promise<void> =>
  fs.rm(noteOf(target), { force: true }).catch(() => undefined);

/**
 * The ballast on this machine's drives: where this user's programs have put some, and at the top of every
 * local file system. A drive that is not there now, or does not answer, is left out.
 */
export async function findBallast(): Promise<FoundBallast[]> {
  const tops = (await readMounts())
    .filter(({ source, options }) => source.startsWith("/dev/") && isWritable(options))
    .map(({ point }) => point);
  const found = await Promise.all(
    [...new Set([...(await noted()), ...tops])].map((target) => ballastAt(target)),
  );
  return found.flatMap((one) => one ?? []);
}

/** Images of programs are mounted by the dozen, and never written to. */
const isWritable = (options: string): boolean => !options.split(",").includes("ro");

/** The ballast in a directory; null where there is none, or the drive does not answer. */
export async function ballastAt(target: string): Promise<FoundBallast | null> {
  const room = await roomOf(target);
  if (!room) return null;
  const held = await ballastIn(path.join(/* turbopackIgnore: true */ target, BALLAST_FOLDER));
  return held && { target, bytes: held.bytes, level: held.level, room };
}

/** The room of a directory's file system; null where there is no such directory, or it does not answer. */
export async function roomOf(target: string): Promise<Room | null> {
  try {
    await answering(target);
    if (!(await fs.stat(target)).isDirectory()) return null;
    const { bavail, blocks, bsize } = await fs.statfs(target);
    return blocks > 0 ? { free: bavail * bsize, total: blocks * bsize } : null;
  } catch {
    return null;
  }
}

async function noted(): Promise<string[]> {
  const names = await fs.readdir(notesFolder()).catch(() => []);
  const notes = await Promise.all(
    names.map(async (name) => {
      try {
        return Note.parse(
          JSON.parse(
            await fs.readFile(path.join(/* turbopackIgnore: true */ notesFolder(), name), "utf8"),
          ),
        );
      } catch {
        return null;
      }
    }),
  );
  return notes.flatMap((note) => note?.target ?? []);
}
