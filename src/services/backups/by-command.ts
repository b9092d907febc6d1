import fs from "node:fs";
import path from "node:path";
import { backupName, type Contents } from "@/core/backup/backup";
import {
  backUp,
  contentsOf,
  finishRestore,
  layRestore,
  noteBeside,
  ownBackups,
} from "@/store/backup";
import { checkFolder } from "@/store/check";
import { dataFolder, databaseIn, ownMigrations } from "@/store/database";
import { ownFolder } from "@/store/owner";
import { copyRecordings } from "./recordings-beside";

/**
 * Makes a backup of this user's bench, whether or not its server works with it.
 *
 * @param into a folder, made where it is missing; null for the one beside the database
 * @throws StoreProblem where there is nothing to back up, or it cannot be written
 */
export async function backUpBench(
  into: string | null,
): Promise<{ file: string; contents: Contents }> {
  const data = dataFolder();
  const folder = into ?? ownBackups(data);
  checkFolder(folder);
  const file = path.join(folder, backupName("by-hand", new Date().toISOString()));
  const contents = await backUp(databaseIn(data), file);
  noteBeside(file, contents);
  await copyRecordings(data, folder, "what has grown");
  return { file, contents };
}

/** What is there now, and what a backup would put in its place. Null for now: there is nothing yet. */
export interface Compared {
  folder: string;
  now: Contents | null;
  then: Contents;
}

/** Compares a backup with what is there. @throws StoreProblem where it cannot be restored */
export function compareWithBench(backup: string): Compared {
  const folder = dataFolder();
  const migrations = ownMigrations();
  const then = contentsOf(backup, migrations);
  let now: Contents | null = null;
  try {
    now = contentsOf(databaseIn(folder), migrations);
  } catch {
    // It is not there, or damaged: that may be why something is restored.
  }
  return { folder, now, then };
}

/**
 * Puts a backup in the place of this user's bench. What was there stays beside it, under another name.
 *
 * @returns where that is; null where there was nothing
 * @throws StoreProblem where a server works with the folder, or the backup cannot be restored
 */
export async function restoreBench(backup: string): Promise<string | null> {
  const { folder } = compareWithBench(backup);
  checkFolder(folder);
  const release = ownFolder(folder, null);
  try {
    const database = databaseIn(folder);
    layRestore(backup, database);
    const kept = setAside(database);
    finishRestore(database);
    await copyRecordings(path.dirname(backup), folder, "nothing else");
    return kept;
  } finally {
    release();
  }
}

/** Gives the database, with its log, another name. */
function setAside(database: string): string | null {
  if (!fs.existsSync(database)) return null;
  const stamp = new Date().toISOString().slice(0, 19).replaceAll(/[-:]/g, "");
  const aside = `${database}.replaced-${stamp}Z`;
  for (const end of ["-wal", "-shm", ""])
    if (fs.existsSync(`${database}${end}`)) fs.renameSync(`${database}${end}`, `${aside}${end}`);
  return aside;
}
