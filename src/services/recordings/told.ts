import fs from "node:fs";
import path from "node:path";
import { AskedDocument } from "@/core/recording/kept";

/** What was found out about a recording stands beside it, so that it is worked out once. */
const SUFFIX = ".told.json";

/** What is known of a recording in a folder; null where nothing is, or its file is another one by now. */
export function toldBeside(folder: string, id: string, bytes: number): AskedDocument | null {
  try {
    const file = path.join(/* turbopackIgnore: true */ folder, id + SUFFIX);
    const { of, told } = JSON.parse(fs.readFileSync(file, "utf8")) as { of: number; told: unknown };
    return of === bytes ? AskedDocument.parse(told) : null;
  } catch {
    return null; // none yet, or of an older version
  }
}

/** Keeps it; where that cannot be done it is worked out again. */
export function keepBeside(folder: string, id: string, bytes: number, told: AskedDocument): void {
  try {
    const file = path.join(/* turbopackIgnore: true */ folder, id + SUFFIX);
    fs.writeFileSync(`${file}.new`, JSON.stringify({ of: bytes, told }), { mode: 0o600 });
    fs.renameSync(`${file}.new`, file);
  } catch {
    // Its disk may be full.
  }
}

/** Removes what stands beside a recording. */
export const dropBeside = (folder: string, id: string): void =>
  fs.rmSync(path.join(/* turbopackIgnore: true */ folder, id + SUFFIX), { force: true });
