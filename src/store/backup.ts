import fs from "node:fs";
import path from "node:path";
import Database from "better-sqlite3";
import { backupName, type Contents } from "@/core/backup/backup";
import { makeFolder } from "./make-folder";
import { latestDone, newestKnown } from "./newest";
import { StoreProblem } from "./store-problem";

/** Beside a database: what is to take its place when it is opened next. */
export const RESTORE = ".restore";

/** Pages of one step of a backup: all. A step sees one moment, and holds no writer up (sqlite.org/wal.html). */
const ALL_PAGES = 2 ** 31 - 1;

/**
 * Copies a database while others work with it, by SQLite's online backup. The copy is a single file, for its owner
 * alone, that is there whole or not at all.
 *
 * @throws StoreProblem where it cannot be written, or turns out not to be whole
 */
export async function backUp(file: string, to: string): Promise<Contents> {
  const part = `${to}.part`;
  fs.rmSync(/* turbopackIgnore: true */ part, { force: true });
  const client = new Database(file, { readonly: true, fileMustExist: true, timeout: 5000 });
  try {
    fs.closeSync(fs.openSync(/* turbopackIgnore: true */ part, "wx", 0o600));
    await client.backup(part, { progress: () => ALL_PAGES });
    const contents = asOneFile(part);
    synced(part);
    fs.renameSync(/* turbopackIgnore: true */ part, to);
    synced(path.dirname(to));
    return contents;
  } catch (error) {
    fs.rmSync(/* turbopackIgnore: true */ part, { force: true });
    throw problemOf(error, to);
  } finally {
    client.close();
  }
}

/**
 * Keeps a database as it is before its tables are brought up to date, where that is to be done.
 *
 * @param client nobody else writes through another one
 * @throws StoreProblem where there is no room for it; then nothing is changed
 */
export function backUpBefore(client: Database.Database, file: string, migrations: string): void {
  const isMade = count(
    client,
    "select count(*) as n from sqlite_master where name = '__drizzle_migrations'",
  );
  if (isMade === 0 || latestDone(client) >= newestKnown(migrations)) return;
  const folder = ownBackups(path.dirname(file));
  const to = path.join(
    /* turbopackIgnore: true */ folder,
    backupName("before-update", new Date().toISOString()),
  );
  const part = `${to}.part`;
  try {
    makeFolder(folder);
    client.pragma("wal_checkpoint(TRUNCATE)");
    fs.copyFileSync(/* turbopackIgnore: true */ file, part, fs.constants.COPYFILE_FICLONE);
    fs.chmodSync(/* turbopackIgnore: true */ part, 0o600);
    noteBeside(to, asOneFile(part));
    synced(part);
    fs.renameSync(/* turbopackIgnore: true */ part, to);
  } catch (error) {
    fs.rmSync(/* turbopackIgnore: true */ part, { force: true });
    throw problemOf(error, to);
  }
}

/** Where backups lie unless the tester names a folder: beside the database. */
export const ownBackups = (folder: string): string =>
  path.join(/* turbopackIgnore: true */ folder, "backups");

/** Notes beside a backup what it holds, to be shown without reading all of it. */
export const noteBeside = (backup: string, contents: Contents): void =>
  fs.writeFileSync(/* turbopackIgnore: true */ `${backup}.json`, JSON.stringify(contents), {
    mode: 0o600,
  });

/** Makes a copy one file, without the write-ahead log that its original has, and checks it. */
function asOneFile(file: string): Contents {
  const client = new Database(file);
  try {
    client.pragma("journal_mode = DELETE");
    return checkedContents(client, file);
  } finally {
    client.close();
  }
}

/**
 * Opens a backup and makes sure that it can take a database's place: that it is Nerrit's, whole, and no newer than this
 * program.
 *
 * @throws StoreProblem that says what is wrong with it
 */
export function contentsOf(file: string, migrations: string): Contents {
  let client: Database.Database | null = null;
  try {
    client = new Database(file, { readonly: true, fileMustExist: true, timeout: 5000 });
    const contents = checkedContents(client, file);
    if (latestDone(client) > newestKnown(migrations))
      throw new StoreProblem(
        `${file} was written by a newer version of Nerrit. Restore it with that version.`,
      );
    return contents;
  } catch (error) {
    if (error instanceof StoreProblem) throw error;
    const { message } = error as Error;
    throw new StoreProblem(`${file} cannot be read as a backup: ${message}. Nothing was changed.`);
  } finally {
    client?.close();
  }
}

/** What a database holds, after all of it was read. @throws StoreProblem where it is not whole, or not Nerrit's */
function checkedContents(client: Database.Database, file: string): Contents {
  const { total, own } = client
    .prepare(
      `select count(*) as total, count(case when name in ('studies', 'rigs', 'parts', 'runs', 'measurements', '__drizzle_migrations') then 1 end) as own
       from sqlite_master where type = 'table'`,
    )
    .get() as { total: number; own: number };
  if (own < 6)
    throw new StoreProblem(
      `${file} is no backup of Nerrit: ${total === 0 ? "there is nothing in it" : "it is another program's database"}.`,
    );
  // Nerrit has none; what is in a file from elsewhere would be carried out unseen.
  if (
    count(client, "select count(*) as n from sqlite_master where type in ('trigger', 'view')") > 0
  )
    throw new StoreProblem(`${file} holds what Nerrit never writes, and is not restored.`);
  const found = client.pragma("integrity_check(1)", { simple: true });
  if (found !== "ok")
    throw new StoreProblem(`${file} is damaged (${String(found).slice(0, 200)}).`);
  return figuresOf(client);
}

/** @param client a database whose tables are there */
export const figuresOf = (client: Database.Database): Contents => ({
  studies: count(client, "select count(*) as n from studies"),
  rigs: count(client, "select count(*) as n from rigs"),
  parts: count(client, "select count(*) as n from parts"),
  runs: count(client, "select count(*) as n from runs"),
  latestRun: (
    client.prepare("select max(started_at) as at from runs").get() as { at: string | null }
  ).at,
});

const count = (client: Database.Database, query: string): number =>
  (client.prepare(query).get() as { n: number }).n;

/**
 * Lays a checked backup beside the database, which it replaces when that is opened next. Until then nothing has changed.
 *
 * @throws StoreProblem where it cannot be written
 */
export function layRestore(backup: string, database: string): void {
  const part = `${database}${RESTORE}.part`;
  try {
    fs.copyFileSync(/* turbopackIgnore: true */ backup, part, fs.constants.COPYFILE_FICLONE);
    fs.chmodSync(/* turbopackIgnore: true */ part, 0o600);
    synced(part);
    fs.renameSync(/* turbopackIgnore: true */ part, `${database}${RESTORE}`);
    synced(path.dirname(database));
  } catch (error) {
    fs.rmSync(/* turbopackIgnore: true */ part, { force: true });
    throw problemOf(error, database);
  }
}

/** Puts what lies there in a database's place; a program that is killed meanwhile leaves it to the next one. */
export function finishRestore(database: string): void {
  const laid = `${database}${RESTORE}`;
  if (!fs.existsSync(/* turbopackIgnore: true */ laid)) return;
  // What the log holds belongs to the database that goes.
  for (const beside of ["-wal", "-shm"])
    fs.rmSync(/* turbopackIgnore: true */ `${database}${beside}`, { force: true });
  fs.renameSync(/* turbopackIgnore: true */ laid, database);
  synced(path.dirname(database));
}

/** Has what was written brought to the disk. */
function synced(file: string): void {
  const handle = fs.openSync(/* turbopackIgnore: true */ file, "r");
  try {
    fs.fsyncSync(handle);
  } finally {
    fs.closeSync(handle);
  }
}

const WORDS: Readonly<Record<string, string>> = {
  ENOSPC: "the disk is full",
  SQLITE_FULL: "the disk is full",
  EACCES: "permission denied",
  EROFS: "the file system is read-only",
  ENOENT: "there is no such folder",
};

function problemOf(error: unknown, to: string): unknown {
  const { code = "", message } = error as { code?: string; message: string };
  if (error instanceof StoreProblem) return error;
  return new StoreProblem(`${to} could not be written: ${WORDS[code] ?? message}.`);
}
