import fs from "node:fs";
import path from "node:path";
import * as z from "zod";
import { ARCHIVE_VERSION, TABLE_NAMES, type TableName } from "@/core/archive/tables";
import { makeFolder } from "@/store/make-folder";
import { inWords } from "@/store/in-words";
import { ArchiveProblem } from "./archive-problem";

/** Says that a folder is an archive, and of which layout. */
const LABEL = "archive.json";
const Label = z.object({ format: z.literal("nerrit-archive"), version: z.number().int() });

/** Below it lies what is being written, in a folder for each writer. */
const WRITING = ".writing";
export const writingFolder = (archive: string): string => path.join(archive, WRITING);

/** Names that the folders of a table have; a folder above the archive that has one would be taken for such. */
const PARTITION = /^(year|month|host)=/;

/**
 * Makes a folder an archive, unless it is one already.
 *
 * @throws ArchiveProblem where it holds something else, is of a newer layout, or cannot be written
 */
export function makeArchive(folder: string): void {
  const odd = folder.split(path.sep).find((name) => PARTITION.test(name));
  if (odd)
    throw new ArchiveProblem(
      `${folder} cannot hold an archive: “${odd}” in its path reads like a folder of a table. Name another folder.`,
    );
  try {
    makeFolder(folder);
    const names = fs.readdirSync(folder);
    if (names.includes(LABEL)) return checkLabel(folder);
    if (names.length > 0)
      throw new ArchiveProblem(
        `${folder} holds other files and is no archive. Name an empty folder, or one that is an archive.`,
      );
    const label = { format: "nerrit-archive", version: ARCHIVE_VERSION };
    // Two that begin at once write the same.
    const trial = path.join(folder, `.${LABEL}.${process.pid}`);
    fs.writeFileSync(trial, `${JSON.stringify(label)}\n`);
    fs.renameSync(trial, path.join(folder, LABEL));
  } catch (error) {
    if (error instanceof ArchiveProblem) throw error;
    throw new ArchiveProblem(
      `Nothing can be written into ${folder}: ${inWords(error)}. Name another folder, or make this one writable.`,
    );
  }
}

/** Makes sure that a folder is an archive of a layout that this program reads. @throws ArchiveProblem */
export function checkArchive(folder: string): void {
  if (fs.existsSync(path.join(folder, LABEL))) return checkLabel(folder);
  const why = fs.existsSync(folder) ? `it has no ${LABEL}` : "there is no such folder";
  throw new ArchiveProblem(
    `${folder} is no archive: ${why}. Name a folder that nerrit archive wrote into.`,
  );
}

function checkLabel(folder: string): void {
  let label: z.infer<typeof Label> | undefined;
  try {
    label = Label.parse(JSON.parse(fs.readFileSync(path.join(folder, LABEL), "utf8")));
  } catch {
    throw new ArchiveProblem(
      `${path.join(folder, LABEL)} is not what Nerrit writes: ${folder} is no archive, or its label is damaged.`,
    );
  }
  if (label.version > ARCHIVE_VERSION)
    throw new ArchiveProblem(
      `${folder} was written by a newer version of Nerrit. Use that version.`,
    );
}

/** The files of one table of an archive. */
export function filesOf(archive: string, table: TableName): string[] {
  const folder = path.join(archive, table);
  if (!fs.existsSync(folder)) return [];
  return fs
    .readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile() && entry.name.endsWith(".parquet"))
    .map((entry) => path.join(entry.parentPath, entry.name))
    .toSorted();
}

/** Bytes that all files of an archive take. */
export const bytesOf = (archive: string): number =>
  TABLE_NAMES.flatMap((table) => filesOf(archive, table)).reduce(
    (sum, file) => sum + fs.statSync(file).size,
    0,
  );
