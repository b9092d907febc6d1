import { execFileSync, spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { until } from "./command";

const SOURCE = path.join(import.meta.dirname, "faulty-fs.c");

/** A directory whose file system commits faults on purpose. */
export interface FaultyDirectory {
  directory: string;
  /** What it does wrong from now on (faulty-fs.c says what there is). */
  commit(...faults: string[]): void;
  /** Its server dies: from now on every request fails, as if the medium had been pulled out. */
  die(): void;
  /** Its server stands still, or goes on: until then nothing at all is answered. */
  freeze(still: boolean): void;
  remove(): Promise<void>;
}

let built: string | null | undefined;

function build(): string {
  const binary = path.join(
    fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-faulty-fs-")),
    "faulty-fs",
  );
  const flags = ["-O2", "-D_FILE_OFFSET_BITS=64", "-I/usr/include/fuse3", "-o", binary, SOURCE];
  execFileSync("cc", [...flags, "-lfuse3", "-lpthread"], { stdio: "pipe" });
  process.on("exit", () => fs.rmSync(path.dirname(binary), { recursive: true, force: true }));
  return binary;
}

/** Why a file system of the tests' own cannot be had here; null where it can. */
export function whyNoFaults(): string | null {
  if (process.getuid?.() !== 0) return "needs root";
  if (!fs.existsSync("/dev/fuse")) return "needs /dev/fuse";
  try {
    built ??= build();
    return null;
  } catch (error) {
    built = null;
    return `needs a C compiler and libfuse3-dev (${String(error).split("\n")[0]})`;
  }
}

/** Mounts one. */
export async function makeFaulty(): Promise<FaultyDirectory> {
  const folder = fs.mkdtempSync(path.join("/dev/shm", "nerrit-faulty-"));
  const [backing, directory, faults] = ["backing", "mount", "faults"].map((name) =>
    path.join(folder, name),
  );
  fs.mkdirSync(backing!);
  fs.mkdirSync(directory!);
  fs.writeFileSync(faults!, "");
  const child = spawn(built!, [backing!, directory!, faults!], { stdio: "ignore" });
  const before = fs.statSync(folder).dev;
  await until("the file system is mounted", () => fs.statSync(directory!).dev !== before);
  const commit = (...lines: string[]) => {
    // Written beside and moved, so that it is never read half.
    fs.writeFileSync(`${faults}.new`, lines.map((line) => `${line}\n`).join(""));
    fs.renameSync(`${faults}.new`, faults!);
  };
  return {
    directory: directory!,
    commit,
    die: () => void child.kill("SIGKILL"),
    freeze: (still) => void child.kill(still ? "SIGSTOP" : "SIGCONT"),
    async remove() {
      commit();
      const gone = child.exitCode === null && child.signalCode === null && once(child, "exit");
      try {
        execFileSync("umount", [directory!], { stdio: "pipe" });
      } catch {
        execFileSync("umount", ["--lazy", directory!], { stdio: "pipe" });
        child.kill("SIGKILL");
      }
      await gone;
      fs.rmSync(folder, { recursive: true, force: true });
    },
  };
}
