import fs from "node:fs";
import os from "node:os";
import path from "node:path";

/** What a small system with a shell has; no runtime is among it. */
const PROGRAMS = "sh cat chmod date df find grep head ls mkdir mv rm sed sleep uname wc".split(" ");
/** Where the one program that is a whole small system lies, if it is here. */
export const BUSYBOX =
  ["/usr/bin/busybox", "/bin/busybox"].find((file) => fs.existsSync(file)) ?? null;

/**
 * Makes a folder with the programs of a small system, for PATH.
 *
 * @param more programs of this machine beside them
 * @param all the program that is all of them; null: they are this machine's
 */
export function smallSystem(more: readonly string[] = [], all: string | null = null): string {
  const bin = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bin-"));
  for (const name of [...PROGRAMS, ...more])
    fs.symlinkSync(all ?? `/bin/${name}`, path.join(bin, name));
  return bin;
}
