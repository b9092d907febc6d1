import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";

const built = new Map<string, string>();

/**
 * A library to be loaded before all others of a program (ld.so(8), LD_PRELOAD), compiled once.
 *
 * @param source its file in this folder
 * @throws where there is no C compiler
 */
export function preload(source: string): string {
  const known = built.get(source);
  if (known) return known;
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-preload-"));
  const file = path.join(folder, `${path.basename(source, ".c")}.so`);
  const flags = ["-O2", "-shared", "-fPIC", "-o", file];
  process.on("exit", () => fs.rmSync(folder, { recursive: true, force: true }));
  execFileSync("cc", [...flags, path.join(import.meta.dirname, source), "-ldl"], { stdio: "pipe" });
  built.set(source, file);
  return file;
}
