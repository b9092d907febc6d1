import fs from "node:fs";
import { parentPort, workerData } from "node:worker_threads";
import { fileTerms } from "@/core/drills/copy-figures";
import { native } from "../lanes/native";
import { fillIncompressible } from "../lanes/stamp";
import { Belt, FILES, FIT, READ, WRITTEN, type BeltMemory } from "./belt";
import type { CopyFile } from "./files";
import { Tree } from "./tree";

/** What one side of a copy is started with. */
export interface SideTask {
  side: "reader" | "writer";
  memory: BeltMemory;
  files: CopyFile[];
  /** Handle of the folder; null: files are made up, or thrown away. */
  folder: number | null;
  direct: boolean;
  seed: number;
  compressible: number;
}

const { O_RDONLY, O_WRONLY, O_CREAT, O_EXCL } = fs.constants;
const DIRECT = fs.constants.O_DIRECT ?? 0;
/** Direct I/O moves whole sectors; 4 KiB suits every device. */
const ALIGN = 4096;

/** Opens past the page cache where that is wanted and the file system lets it. */
function open(
  tree: Tree,
  file: string,
  flags: number,
  direct: boolean,
): { fd: number; direct: boolean } {
  const make = (flags & O_CREAT) !== 0;
  if (direct) {
    try {
      return { fd: tree.open(file, flags | DIRECT, make), direct };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EINVAL") throw error;
      // Only what this call itself has just made; what is read is never touched.
      if (make) tree.remove(file);
    }
  }
  return { fd: tree.open(file, flags, make), direct: false };
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
  const tree = folder === null ? null : new Tree(folder);
  let turn = 0;
  for (const [number, { name, bytes }] of files.entries()) {
    const opened = tree && open(tree, name, O_RDONLY, direct);
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
  const tree = folder === null ? null : new Tree(folder);
  let current: { fd: number; direct: boolean } | null = null;
  let at = 0;
  let begun = performance.now();
  try {
    for (;;) {
      const place = belt.take();
      if (!place) break;
      const { file, bytes, last, data } = place;
      if (tree) {
        current ??= open(tree, files[file]!.name, O_WRONLY | O_CREAT | O_EXCL, direct);
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
      fileTerms(at, now - begun).forEach((term, i) => (memory.totals[FIT + i]! += term));
      begun = now;
      at = 0;
      memory.totals[FILES]! += 1;
    }
    if (folder !== null && !belt.stopped) bringToMedium(folder);
  } finally {
    if (current) fs.closeSync(current.fd);
    tree?.close();
  }
}

function writeFully(fd: number, data: Uint8Array, bytes: number, at: number): void {
  for (let done = 0; done < bytes;) done += fs.writeSync(fd, data, done, bytes - done, at + done);
}

/** What is not on the medium is not copied. */
function bringToMedium(folder: number): void {
  try {
    if (native()?.sync(folder) === 0) return;
    fs.fsyncSync(folder);
  } catch {
    // Some file systems (FUSE) have no such call for a directory; their files are written as they close.
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
