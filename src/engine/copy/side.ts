import fs from "node:fs";
import path from "node:path";
import { parentPort, workerData } from "node:worker_threads";
import { native } from "../native";
import { fillIncompressible } from "../stamp";
import { Belt, FileFit, FILES, READ, WRITTEN, type BeltMemory } from "./belt";
import type { CopyFile } from "./files";

/** What one side of a copy is started with. */
export interface SideTask {
  side: "reader" | "writer";
  memory: BeltMemory;
  files: CopyFile[];
  /** The folder; null: files are made up, or thrown away. */
  folder: string | null;
  direct: boolean;
  seed: number;
  compressible: number;
}

const { O_RDONLY, O_WRONLY, O_CREAT, O_EXCL, O_NOFOLLOW } = fs.constants;
const DIRECT = fs.constants.O_DIRECT ?? 0;
/** Direct I/O moves whole sectors; 4 KiB suits every device. */
const ALIGN = 4096;

/** Opens past the page cache where that is wanted and the file system lets it. */
function open(file: string, flags: number, direct: boolean): { fd: number; direct: boolean } {
  if (direct) {
    try {
      return { fd: fs.openSync(file, flags | DIRECT, 0o600), direct };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EINVAL") throw error;
      // Only what this call itself has just made; what is read is never touched.
      if (flags & O_CREAT) fs.rmSync(file, { force: true });
    }
  }
  return { fd: fs.openSync(file, flags, 0o600), direct: false };
}

/** Ready data for files that are made up: each block is another stretch of it. */
const POOL = 16 * 2 ** 20;

function poolFor({ folder, memory, seed, compressible }: SideTask): Uint8Array {
  const pool = new Uint8Array(folder === null ? POOL + memory.block : 0);
  fillIncompressible(pool, seed, compressible);
  return pool;
}

function read(task: SideTask, belt: Belt): void {
  const { folder, files, direct, memory } = task;
  const pool = poolFor(task);
  let turn = 0;
  for (const [number, { name, bytes }] of files.entries()) {
    const opened =
      folder === null ? null : open(path.join(folder, name), O_RDONLY | O_NOFOLLOW, direct);
    try {
      for (let at = 0; ;) {
        const data = belt.free();
        if (!data) return;
        const wanted = Math.min(memory.block, bytes - at);
        if (!opened) {
          turn = (turn + wanted + ALIGN) % POOL;
          data.set(pool.subarray(turn, turn + wanted));
        }
        const moved = opened && wanted > 0 ? readFully(opened.fd, data, wanted, at) : wanted;
        at += moved;
        memory.totals[READ]! += moved;
        // A file that has become shorter ends where it ends.
        const last = at >= bytes || moved < wanted;
        belt.put(number, moved, last);
        if (last) break;
      }
    } finally {
      if (opened) fs.closeSync(opened.fd);
    }
  }
  belt.end();
}

/** Reads until there is as much as was wanted, or the file's end. */
function readFully(fd: number, data: Uint8Array, wanted: number, at: number): number {
  let done = 0;
  while (done < wanted) {
    // Whole blocks, also beyond the end: direct I/O takes no others.
    const moved = fs.readSync(fd, data, done, data.byteLength - done, at + done);
    if (moved === 0) break;
    done += moved;
    if (done % ALIGN !== 0) break;
  }
  return Math.min(done, wanted);
}

function write({ folder, files, direct, memory }: SideTask, belt: Belt): void {
  const fit = new FileFit(memory.totals);
  let current: { fd: number; direct: boolean } | null = null;
  let made = "";
  let at = 0;
  let begun = performance.now();
  try {
    for (;;) {
      const place = belt.take();
      if (!place) break;
      const { file, bytes, last, data } = place;
      if (folder !== null) {
        if (!current) {
          const target = path.join(folder, files[file]!.name);
          if (path.dirname(target) !== made) {
            made = path.dirname(target);
            fs.mkdirSync(made, { recursive: true, mode: 0o700 });
          }
          current = open(target, O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW, direct);
        }
        const whole: number = current.direct ? Math.ceil(bytes / ALIGN) * ALIGN : bytes;
        writeFully(current.fd, data, whole, at);
        at += bytes;
        if (last) {
          if (whole !== bytes) fs.ftruncateSync(current.fd, at);
          fs.closeSync(current.fd);
          current = null;
        }
      } else at += bytes;
      memory.totals[WRITTEN]! += bytes;
      belt.done();
      if (!last) continue;
      const now = performance.now();
      fit.add(at, now - begun);
      begun = now;
      at = 0;
      memory.totals[FILES]! += 1;
    }
    if (folder !== null && !belt.stopped) bringToMedium(folder);
  } finally {
    if (current) fs.closeSync(current.fd);
  }
}

function writeFully(fd: number, data: Uint8Array, bytes: number, at: number): void {
  for (let done = 0; done < bytes;) done += fs.writeSync(fd, data, done, bytes - done, at + done);
}

/** What is not on the medium is not copied. */
function bringToMedium(folder: string): void {
  const fd = fs.openSync(folder, O_RDONLY);
  try {
    if (native()?.sync(fd) === 0) return;
    fs.fsyncSync(fd);
  } catch {
    // Some file systems (FUSE) have no such call for a directory; their files are written as they close.
  } finally {
    fs.closeSync(fd);
  }
}

function run(task: SideTask): void {
  const belt = new Belt(task.memory);
  try {
    if (task.side === "reader") read(task, belt);
    else write(task, belt);
  } catch (error) {
    belt.fail(task.side, -((error as NodeJS.ErrnoException).errno ?? -5));
  }
}

if (parentPort) run(workerData as SideTask);
