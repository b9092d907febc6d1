import { closeSync, constants } from "node:fs";
import fs from "node:fs/promises";
import { BALLAST_FOLDER, type Room } from "@/core/ballast/ballast";
import { changeFor } from "@/core/ballast/change";
import type { BallastJob, EngineEvent } from "@/core/run/protocol";
import { openFolder, within } from "../copy/tree";
import type { Outside } from "../outside";
import { Refusal, systemCode } from "../refusal";
import { lockDevices } from "../target/lock";
import { holdTarget, refusalFor } from "../target/scratch";
import { inspectTarget, isMemory, reserveOf, type Target } from "../target/target";
import { grow, shrink } from "./files";
import { BALLAST_MARKER, ballastIn, MARKER_BYTES, type Marker } from "./held";
import { forgetBallast, noteBallast, roomOf } from "./places";

/**
 * Fills the file system of a directory to a level with files of Nerrit's own, or removes them. What lies
 * there already is kept as far as it is needed, also what was left by a crash.
 *
 * @throws Refusal before anything was written; RunFailure once it had begun
 */
export async function keepBallast(
  { ballast: asked }: BallastJob,
  outside: Outside,
): Promise<EngineEvent> {
  const target = await inspect(asked);
  const unlock = await lockDevices([target]);
  let folder: number | null = null;
  try {
    if (asked.level > 0) await noteBallast(target.path);
    folder = await openBallast(target, asked.level > 0);
    const isWhole = folder === null || (await change(folder, target, asked, outside));
    if (folder !== null && asked.level === 0) await removeFolder(target, folder);
    if (asked.level === 0) await forgetBallast(target.path);
    const left = folder === null ? null : await ballastIn(within(folder));
    const ballast = { bytes: left?.bytes ?? 0, level: left ? left.level : 0 };
    outside.tell({ event: "ballast", ballast, room: await roomNow(target) });
    return { event: isWhole ? "done" : "stopped" };
  } finally {
    if (folder !== null) closeSync(folder);
    unlock();
  }
}

type Asked = BallastJob["ballast"];

/** @throws Refusal where there can be no ballast */
async function inspect({ target: path, level, keepOff }: Asked): Promise<Target> {
  const target = await inspectTarget({
    path,
    as: "files",
    io: "buffered",
    reserve: 0,
    room: 0,
    block: 512,
    writes: true,
    keepOff: level === 0 ? null : keepOff,
  });
  if (target.mount && isMemory(target.mount)) {
    const why = `${path} is on ${target.mount.type}, which is memory: ballast there fills no drive.`;
    throw new Refusal("not-a-target", `${why} Name a directory on the drive.`);
  }
  return target;
}

/** Writes or removes what the level needs. @returns false where it was stopped */
async function change(
  folder: number,
  target: Target,
  { level, reserve }: Asked,
  outside: Outside,
): Promise<boolean> {
  const found = await ballastIn(within(folder));
  const last = found?.level === null ? found.files.at(-1) : undefined;
  // Its making was cut short: the last file may have its blocks, and not its bytes.
  if (last) await shrink(folder, last.bytes);
  const held = (found?.bytes ?? 0) - (last?.bytes ?? 0);
  const room = await roomNow(target);
  const wanted = changeFor(level, room, held, reserveOf(reserve, room.total));
  if (typeof wanted === "string") throw new Refusal("no-space", wanted);
  if (wanted.remove > 0) await shrink(folder, wanted.remove);
  // Nothing is written where all goes: a full drive may have no room for it.
  if (level === 0) return true;
  await mark(folder, null);
  const written = wanted.write > 0 ? await grow(folder, target, wanted.write, outside) : 0;
  const isWhole = written === wanted.write;
  if (isWhole) await mark(folder, level);
  return isWhole;
}

async function roomNow({ path, freeBytes, totalBytes }: Target): Promise<Room> {
  return (await roomOf(path)) ?? { free: freeBytes!, total: totalBytes! };
}

/**
 * Holds the folder of a target's ballast open.
 *
 * @param make whether it is made where there is none
 * @returns its handle; null where there is none
 * @throws Refusal where something else stands in its place
 */
async function openBallast(target: Target, make: boolean): Promise<number | null> {
  const parent = holdTarget(target);
  const name = within(parent, BALLAST_FOLDER);
  let folder: number | null = null;
  try {
    if (make) await fs.mkdir(name, { mode: 0o700 }).catch(unlessThere);
    folder = openFolder(name);
    if (!(await ballastIn(within(folder)))) {
      // One that is empty was made in the moment of a crash, or just now.
      if ((await fs.readdir(within(folder))).length > 0) throw notOurs(target);
      if (make) await mark(folder, null);
    }
    return folder;
  } catch (error) {
    if (folder !== null) closeSync(folder);
    const code = systemCode(error) ?? "";
    if (code === "ENOENT" && !make) return null;
    if (["ELOOP", "ENOTDIR"].includes(code)) throw notOurs(target);
    throw refusalFor(error, target);
  } finally {
    closeSync(parent);
  }
}

function unlessThere(error: unknown): void {
  if (systemCode(error) !== "EEXIST") throw error;
}

const notOurs = ({ path }: Target) =>
  new Refusal(
    "not-a-target",
    `${path}/${BALLAST_FOLDER} was not made by Nerrit, and nothing in it is touched. Rename it, or name another directory.`,
  );

/**
 * Writes down for which level the ballast is; null while it is being made. In one piece over the one before,
 * so that who reads meanwhile finds one of the two.
 */
async function mark(folder: number, level: number | null): Promise<void> {
  const marker: Marker = {
    madeBy: "Nerrit",
    what: "Ballast keeps this drive at a stated fill level. Remove it with: nerrit ballast --remove",
    level,
  };
  const { O_WRONLY, O_CREAT, O_NOFOLLOW } = constants;
  const file = await fs.open(
    within(folder, BALLAST_MARKER),
    O_WRONLY | O_CREAT | O_NOFOLLOW,
    0o644,
  );
  try {
    await file.write(`${JSON.stringify(marker).padEnd(MARKER_BYTES - 1)}\n`, 0);
  } finally {
    await file.close();
  }
}

/** Removes the folder itself; where somebody else has put something into it, that and the folder stay. */
async function removeFolder(target: Target, folder: number): Promise<void> {
  await fs.rm(within(folder, BALLAST_MARKER), { force: true });
  const parent = holdTarget(target);
  try {
    await fs.rmdir(within(parent, BALLAST_FOLDER)).catch(() => undefined);
  } finally {
    closeSync(parent);
  }
}
