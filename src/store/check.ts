import fs from "node:fs";
import path from "node:path";
import Database from "better-sqlite3";
import { inWords } from "./in-words";
import { whatIsLeft } from "./left";
import { makeFolder } from "./make-folder";
import { newestKnown } from "./newest";
import { StoreProblem } from "./store-problem";

/** Databases up to this size are read through as a whole before they are used: about a second. */
const READ_THROUGH = 1 << 30;

const ELSEWHERE = "Name another folder with NERRIT_DATA";

/**
 * Makes sure that a data folder can be worked with: a folder that can be written, for its owner alone, with
 * no database in it, or with one that is whole and not newer than this program.
 *
 * @param file the database in it
 * @param migrations folder with the migrations that this program knows
 * @throws StoreProblem that says what is wrong and what to do
 */
export function checkData(folder: string, file: string, migrations: string): void {
  checkFolder(folder);
  const found = fs.statSync(file, { throwIfNoEntry: false });
  if (!found) {
    // For its owner alone from the beginning: what SQLite makes beside it takes the same rights.
    fs.closeSync(fs.openSync(file, "wx", 0o600));
    return;
  }
  if (!found.isFile()) throw new StoreProblem(`${file} is no file. ${ELSEWHERE}.`);
  if (found.size === 0)
    throw new StoreProblem(
      `The database ${file} is empty, though it was made before: its content was lost. Put a copy of it there, or remove the empty file to begin anew.`,
    );
  fs.chmodSync(file, 0o600);
  checkDatabase(file, found.size, migrations);
}

/**
 * Makes sure that a data folder is there, for its owner alone, and can be written; makes it if missing.
 *
 * @throws StoreProblem that says what is wrong and what to do
 */
export function checkFolder(folder: string): void {
  try {
    makeFolder(folder);
  } catch (error) {
    throw new StoreProblem(
      `${folder} cannot be used as the data folder: ${inWords(error)}. ${ELSEWHERE}.`,
    );
  }
  const trial = path.join(/* turbopackIgnore: true */ folder, `.nerrit-trial-${process.pid}`);
  try {
    if (fs.statSync(folder).uid === process.getuid?.()) fs.chmodSync(folder, 0o700);
    fs.writeFileSync(trial, "", { flag: "wx", mode: 0o600 });
    fs.rmSync(trial);
  } catch (error) {
    throw new StoreProblem(
      `Nothing can be written into the data folder ${folder}: ${inWords(error)}. Make it writable for this user. ${ELSEWHERE} otherwise.`,
    );
  }
}

function checkDatabase(file: string, size: number, migrations: string): void {
  const newest = newestKnown(migrations);
  let client: Database.Database | null = null;
  try {
    client = new Database(file, { timeout: 5000 });
    const { n } = client
      .prepare("select count(*) as n from sqlite_master where name = '__drizzle_migrations'")
      .get() as { n: number };
    const { latest } = (
      n > 0
        ? client.prepare("select max(created_at) as latest from __drizzle_migrations").get()
        : { latest: 0 }
    ) as { latest: number };
    if (latest > newest)
      throw new StoreProblem(
        `The database ${file} was written by a newer version of Nerrit. Start that version. ${ELSEWHERE} for this one.`,
      );
    const whole = size > READ_THROUGH || client.pragma("quick_check(1)", { simple: true }) === "ok";
    if (!whole) throw new Error("its pages contradict each other");
  } catch (error) {
    if (error instanceof StoreProblem) throw error;
    const { code = "", message } = error as { code?: string; message: string };
    if (code.startsWith("SQLITE_BUSY"))
      throw new StoreProblem(
        `The database ${file} is locked by another program. End that program, and start again.`,
      );
    client?.close();
    throw new StoreProblem(
      `The database ${file} is damaged (${message}). ${whatIsLeft(file, migrations)}`,
    );
  } finally {
    client?.close();
  }
}
