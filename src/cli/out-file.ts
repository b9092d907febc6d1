import fs from "node:fs";
import path from "node:path";
import { runsFile, type Recorded } from "@/core/exchange/runs-file";
import { Failure, Usage } from "./exit";

/**
 * Makes sure, before anything is measured, that what is measured can be written.
 *
 * @throws Usage where the file is there already, or cannot be made
 */
export function checkOut(file: string): void {
  if (fs.existsSync(file)) {
    throw new Usage(`--out: ${file} is there already; name another, so that nothing is lost`);
  }
  const folder = path.dirname(path.resolve(file));
  try {
    fs.accessSync(folder, fs.constants.W_OK);
  } catch {
    throw new Usage(`--out: nothing can be written into ${folder}`);
  }
}

/** Writes runs to a file, whole or not at all. @throws Failure where that fails */
export const writeOut = (file: string, measurements: readonly Recorded[]): void =>
  writeNew(file, runsFile(measurements));

/** Writes a new file, whole or not at all. @throws Failure where that fails */
export function writeNew(file: string, content: string | Uint8Array): void {
  const part = `${file}.part`;
  try {
    fs.writeFileSync(part, content, { flag: "wx" });
    fs.linkSync(part, file);
    fs.unlinkSync(part);
  } catch (error) {
    throw new Failure(`${file} could not be written: ${(error as Error).message}`);
  }
}
