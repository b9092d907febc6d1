import fs from "node:fs";
import path from "node:path";
import { TABLE_NAMES } from "@/core/archive/tables";
import { writingFolder } from "./folder";

/**
 * What one writer has laid ready for an archive, in a folder of its own beside the tables. It goes into its
 * places at the end, all of it: the list of moves is written first, and a writer that was killed in their
 * middle goes on with them when it begins anew.
 */
const MOVES = "moves.json";

export const stagingFolder = (archive: string, writer: string): string =>
  path.join(writingFolder(archive), writer);

/** Puts everything that was laid ready into its place. @returns how many files */
export function moveIn(archive: string, writer: string): number {
  const staging = stagingFolder(archive, writer);
  const files = filesIn(staging);
  for (const file of files) synced(path.join(staging, file));
  const moves = path.join(staging, MOVES);
  fs.writeFileSync(`${moves}.part`, JSON.stringify(files));
  synced(`${moves}.part`);
  fs.renameSync(`${moves}.part`, moves);
  synced(staging);
  finishMoves(archive, staging, files);
  return files.length;
}

/** Ends what a writer of this name left behind: goes on with its moves, or drops what was never complete. */
export function endLeftover(archive: string, writer: string): void {
  const staging = stagingFolder(archive, writer);
  const moves = path.join(staging, MOVES);
  if (fs.existsSync(moves))
    finishMoves(archive, staging, JSON.parse(fs.readFileSync(moves, "utf8")) as string[]);
  else fs.rmSync(staging, { recursive: true, force: true });
}

function finishMoves(archive: string, staging: string, files: readonly string[]): void {
  const folders = new Set<string>();
  for (const file of files) {
    const from = path.join(staging, file);
    const to = path.join(archive, file);
    // Moved already, by one that was killed after it.
    if (!fs.existsSync(from)) continue;
    fs.mkdirSync(path.dirname(to), { recursive: true });
    fs.renameSync(from, to);
    folders.add(path.dirname(to));
  }
  for (const folder of folders) synced(folder);
  fs.rmSync(staging, { recursive: true, force: true });
}

/** What is laid ready, table by table in their order: paths from the archive's folder. */
const filesIn = (staging: string): string[] =>
  TABLE_NAMES.flatMap((table) => {
    const folder = path.join(staging, table);
    if (!fs.existsSync(folder)) return [];
    return fs
      .readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => path.relative(staging, path.join(entry.parentPath, entry.name)))
      .toSorted();
  });

/** Waits until a file, or what a folder lists, is on the disk. */
function synced(file: string): void {
  const fd = fs.openSync(file, "r");
  try {
    fs.fsyncSync(fd);
  } finally {
    fs.closeSync(fd);
  }
}
