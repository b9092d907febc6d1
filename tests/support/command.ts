import { spawn } from "node:child_process";
import path from "node:path";
import { PATIENCE_MS } from "./patience";

export const ROOT = path.resolve(import.meta.dirname, "../..");

export interface Finished {
  status: number | null;
  stdout: string;
  stderr: string;
}

/**
 * Runs the nerrit command as a user would.
 *
 * @param started told its process id
 * @param env variables of its surroundings beside those of the test
 * @param heard told all that it has said on standard error, whenever it says more
 */
export function nerrit(
  args: string[],
  started?: (pid: number) => void,
  env: Record<string, string> = {},
  heard?: (stderr: string) => void,
): Promise<Finished> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, [path.join(ROOT, "bin/nerrit.mjs"), ...args], {
      stdio: ["ignore", "pipe", "pipe"],
      env: { ...process.env, ...env },
    });
    started?.(child.pid!);
    let stdout = "";
    let stderr = "";
    child.stdout.on("data", (chunk) => (stdout += chunk));
    child.stderr.on("data", (chunk) => {
      stderr += chunk;
      heard?.(stderr);
    });
    child.on("error", reject);
    child.on("close", (status) => resolve({ status, stdout, stderr }));
  });
}

/**
 * Runs the nerrit command with `--progress`, and does something once it has said how far it is.
 *
 * @param when what its progress must say, in all that it has said of it until then
 * @param act told its process id; done once
 * @returns how it ended, with its progress in what it said on standard error
 */
export function nerritAt(
  args: string[],
  when: RegExp,
  act: (pid: number) => void,
  started?: (pid: number) => void,
): Promise<Finished> {
  let pid = 0;
  let done = false;
  return nerrit(
    [...args, "--progress"],
    (its) => {
      pid = its;
      started?.(its);
    },
    {},
    (stderr) => {
      if (done || !when.test(stderr)) return;
      done = true;
      act(pid);
    },
  );
}

/** Waits until something is so. @throws after the patience is over */
export async function until<T>(
  what: string,
  probe: () => T | Promise<T>,
  patienceMs = PATIENCE_MS,
): Promise<NonNullable<T>> {
  const end = Date.now() + patienceMs;
  for (;;) {
    const found = await probe();
    if (found) return found;
    if (Date.now() > end) throw new Error(`Waited in vain until ${what}.`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
