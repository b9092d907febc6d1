import { createHash } from "node:crypto";
import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import * as z from "zod";
import { BALLAST_FOLDER, type Ballast, type Room } from "@/core/ballast/ballast";
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

/**
 * Where this user's programs note the directories in which they have put ballast: it lies on the machine's
 * drives, whatever data folder Nerrit works with. XDG Base Directory Specification 0.8, $XDG_STATE_HOME.
 */
const notesFolder = (): string =>
  path.join(
    process.env.XDG_STATE_HOME || path.join(os.homedir(), ".local", "state"),
    "nerrit",
    "ballast",
  );

const noteOf = (target: string): string =>
  path.join(
    notesFolder(),
    `${createHash("sha256").update(target).digest("hex").slice(0, 16)}.json`,
  );

/** Notes that ballast is put into a directory, so that it is found again after a crash. */
export async function noteBallast(target: string): Promise<void> {
  await fs.mkdir(notesFolder(), { recursive: true, mode: 0o700 });
  await fs.writeFile(noteOf(target), `${JSON.stringify({ target })}\n`);
}

/** Forgets a directory that has no ballast any more. */
export const forgetBallast = (target: string): Promise<void> =>
  fs.rm(noteOf(target), { force: true });

/**
 * The ballast on this machine's drives: where this user's programs have put some, and at the top of every
 * local file system. A drive that is not there now, or does not answer, is left out.
 */
export async function findBallast(): Promise<FoundBallast[]> {
  const tops = (await readMounts())
    .filter(({ source }) => source.startsWith("/dev/"))
    .map(({ point }) => point);
  const found = await Promise.all(
    [...new Set([...(await noted()), ...tops])].map((target) => ballastAt(target)),
  );
  return found.flatMap((one) => one ?? []);
}

/** The ballast in a directory; null where there is none, or the drive does not answer. */
export async function ballastAt(target: string): Promise<FoundBallast | null> {
  try {
    await answering(target);
    const held = await ballastIn(path.join(target, BALLAST_FOLDER));
    if (!held) return null;
    const { bytes, level } = held;
    return { target, bytes, level, room: await roomOf(target) };
  } catch {
    return null;
  }
}

/** The room of a directory's file system. @throws Error with the system's code */
export async function roomOf(target: string): Promise<Room> {
  const { bavail, blocks, bsize } = await fs.statfs(target);
  return { free: bavail * bsize, total: blocks * bsize };
}

async function noted(): Promise<string[]> {
  const names = await fs.readdir(notesFolder()).catch(() => []);
  const notes = await Promise.all(
    names.map(async (name) => {
      try {
        return Note.parse(JSON.parse(await fs.readFile(path.join(notesFolder(), name), "utf8")));
      } catch {
        return null;
      }
    }),
  );
  return notes.flatMap((note) => note?.target ?? []);
}
