import { execFileSync, spawn, spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { runsOfLines } from "@/core/exchange/lines-file";
import { RunsFile } from "@/core/exchange/runs-file";
import { ROOT, type Finished } from "./command";

/** The program that measures elsewhere, run as a user would, here or under Wine. */

const BUILT = path.join(ROOT, "dist/programs");
const LINUX = path.join(BUILT, "nerrit-measure");
const WINDOWS = path.join(BUILT, "nerrit-measure.exe");
const WINE = "/usr/bin/wine";
const SERVERS = ["/usr/lib/wine/wineserver64", "/usr/bin/wineserver"];

/** Why the program cannot be run; null where it can. */
export const whyNoProgram = (): string | null =>
  fs.existsSync(LINUX) ? null : "it was not built: needs a C compiler";
export const whyNoWine = (): string | null =>
  !fs.existsSync(WINDOWS)
    ? "it was not built: needs mingw-w64"
    : fs.existsSync(WINE)
      ? null
      : "needs Wine";

/** How a program is begun, and in what surroundings. */
export interface Runner {
  command: string;
  first: string[];
  env: Record<string, string>;
  /** What the program calls a path. */
  pathOf(path: string): string;
}
export const HERE: Runner = { command: LINUX, first: [], env: {}, pathOf: (at) => at };

/** Wine with a made-up Windows of its own. @returns how to begin it, and how to take it away */
export function makeWine(): Runner & { remove(): void } {
  const prefix = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-wine-"));
  const env = { WINEPREFIX: prefix, WINEDEBUG: "-all", DISPLAY: "" };
  const options = { env: { ...process.env, ...env }, stdio: "ignore" as const };
  execFileSync(WINE, ["wineboot", "--init"], options);
  return {
    command: WINE,
    first: [WINDOWS],
    env,
    pathOf: (at) => `Z:${at.replaceAll("/", "\\")}`,
    remove() {
      // What Wine keeps running beside its programs is ended, and waited for.
      const [server] = SERVERS.filter((file) => fs.existsSync(file));
      if (server) spawnSync(server, ["-k"], options);
      if (server) spawnSync(server, ["-w"], options);
      fs.rmSync(prefix, { recursive: true, force: true, maxRetries: 50, retryDelay: 200 });
    },
  };
}

/**
 * Runs the program.
 *
 * @param heard told all that it has said on standard error, whenever it says more, and its process id
 */
export function measureElsewhere(
  { command, first, env }: Runner,
  args: string[],
  heard?: (stderr: string, pid: number) => void,
): Promise<Finished> {
  return new Promise((resolve, reject) => {
    const child = spawn(command, [...first, ...args], {
      stdio: ["ignore", "pipe", "pipe"],
      env: { ...process.env, ...env },
    });
    let [stdout, stderr] = ["", ""];
    child.stdout.on("data", (chunk) => (stdout += chunk));
    child.stderr.on("data", (chunk) => {
      stderr += chunk;
      heard?.(stderr, child.pid!);
    });
    child.on("error", reject);
    child.on("close", (status) => resolve({ status, stdout, stderr }));
  });
}

/** The measurements in a run file. @throws where it is none */
export const measuredIn = (file: string): RunsFile["measurements"] =>
  RunsFile.parse(runsOfLines(fs.readFileSync(file, "utf8"))).measurements;

/** Short settings of every drill of the program, for a small disk. */
export const SHORT: Record<string, string[]> = {
  haul: ["--direction", "read", "--seconds", "0.5", "--span", "8MiB", "--repeats", "2"],
  scatter: ["--direction", "mixed", "--seconds", "0.5", "--span", "8MiB", "--repeats", "1"],
  "stride-ladder": ["--blocks", "4KiB 64KiB 1MiB", "--seconds", "0.5", "--span", "8MiB"],
  "depth-ladder": ["--depths", "1 4 40", "--seconds", "0.5", "--span", "8MiB"],
  "long-fill": ["--size", "24MiB", "--seconds", "60"],
  traverse: ["--places", "4", "--seconds", "0.5", "--span", "16MiB"],
  proof: ["--span", "12MiB"],
  "rest-and-return": ["--fill", "12MiB", "--rests", "0.3 0.1"],
  ferry: ["--mix", "20 x 64KiB, 3 x 3MB", "--seed", "7"],
};
