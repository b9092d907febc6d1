import { execFileSync, spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import path from "node:path";
import { until } from "./command";

/** Builds the share that network-fs.c is: a server and a file system. @throws where it cannot be built here */
export function buildShare(folder: string): string {
  const binary = path.join(folder, "network-fs");
  const source = path.join(import.meta.dirname, "network-fs.c");
  const flags = ["-O2", "-D_FILE_OFFSET_BITS=64", "-I/usr/include/fuse3", "-o", binary, source];
  execFileSync("cc", [...flags, "-lfuse3", "-lpthread"], { stdio: ["ignore", "pipe", "pipe"] });
  return binary;
}

/**
 * Mounts a share whose server was started.
 *
 * @returns takes it off again
 */
export async function mountShare(
  binary: string,
  directory: string,
  server: string,
  port: number,
): Promise<() => Promise<void>> {
  fs.mkdirSync(directory);
  const before = fs.statSync(directory).dev;
  const child = spawn(binary, ["mount", directory, server, String(port)], { stdio: "ignore" });
  await until("the share is mounted", () => fs.statSync(directory).dev !== before);
  return async () => {
    execFileSync("umount", [directory]);
    await ended(child);
  };
}

/** Ends a process and waits for that. */
export async function ended(child: ChildProcess): Promise<void> {
  const gone = once(child, "exit");
  child.kill();
  if (child.exitCode === null && child.signalCode === null) await gone;
}
