import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { runsFile, type Recorded } from "@/core/exchange/runs-file";
import { Failure, Usage } from "../exit";

/** What is written to make sure that something can be written, bytes: a short run's samples. */
const TRIAL = 1 << 20;

/**
 * Makes sure, before anything is measured, that what is measured can be written: it writes something there.
 *
 * @throws Usage where the file is there already, or cannot be made
 */
export function checkOut(file: string): void {
  if (fs.existsSync(file)) {
    throw new Usage(`--out: ${file} is there already; name another, so that nothing is lost`);
  }
  checkWritable(file);
}

/** @throws Usage where nothing can be written beside a file */
export function checkWritable(file: string): void {
  const part = partOf(file);
  try {
    writeThrough(part, Buffer.alloc(TRIAL));
  } catch (error) {
    throw new Usage(
      `--out: nothing can be written into ${path.dirname(path.resolve(file))}: ${(error as Error).message}`,
    );
  } finally {
    fs.rmSync(part, { force: true });
  }
}

/** What a file is called as long as it is not whole: nobody else's, and in the same folder. */
const partOf = (file: string) => `${file}.${process.pid}.part`;

/** Writes a file that is not there yet, down to the disk. */
function writeThrough(file: string, content: string | Uint8Array): void {
  const handle = fs.openSync(file, "wx");
  try {
    fs.writeFileSync(handle, content);
    fs.fsyncSync(handle);
  } finally {
    fs.closeSync(handle);
  }
}

/**
 * Writes runs to a new file, whole or not at all.
 *
 * @throws Failure that says where the runs were kept, where the file could not be written
 */
export function writeOut(file: string, measurements: readonly Recorded[]): void {
  const content = runsFile(measurements);
  try {
    writeNew(file, content);
  } catch (error) {
    const kept = path.join(os.tmpdir(), `nerrit-runs-${process.pid}-${path.basename(file)}`);
    try {
      writeThrough(kept, content);
    } catch {
      throw error;
    }
    throw new Failure(`${(error as Error).message}. The runs were kept in ${kept}`);
  }
}

/** Writes a new file, whole or not at all. @throws Failure where that fails */
export function writeNew(file: string, content: string | Uint8Array): void {
  const part = partOf(file);
  try {
    writeThrough(part, content);
    if (fs.existsSync(file)) throw new Error("it is there already");
    putInPlace(part, file);
  } catch (error) {
    throw new Failure(`${file} could not be written: ${(error as Error).message}`);
  } finally {
    fs.rmSync(part, { force: true });
  }
}

/** Gives a file its name, where no other has it. */
function putInPlace(part: string, file: string): void {
  try {
    fs.linkSync(part, file);
  } catch (error) {
    // FAT and exFAT have no second names; nobody else makes a file of this name meanwhile.
    if ((error as NodeJS.ErrnoException).code === "EEXIST") throw error;
    fs.renameSync(part, file);
  }
}

/** Writes a file in place of what it held before, whole or not at all. @throws Failure where that fails */
export function writeAgain(file: string, content: string): void {
  const part = partOf(file);
  try {
    writeThrough(part, content);
    fs.renameSync(part, file);
  } catch (error) {
    fs.rmSync(part, { force: true });
    throw new Failure(`${file} could not be written: ${(error as Error).message}`);
  }
}
