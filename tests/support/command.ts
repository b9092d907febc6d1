import { spawn } from "node:child_process";
import path from "node:path";

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
 */
export function nerrit(
  args: string[],
  started?: (pid: number) => void,
  env: Record<string, string> = {},
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
    child.stderr.on("data", (chunk) => (stderr += chunk));
    child.on("error", reject);
    child.on("close", (status) => resolve({ status, stdout, stderr }));
  });
}

/** Waits until something is so. @throws after the patience is over */
export async function until<T>(
  what: string,
  probe: () => T | Promise<T>,
  patienceMs = 30_000,
): Promise<NonNullable<T>> {
  const end = Date.now() + patienceMs;
  for (;;) {
    const found = await probe();
    if (found) return found;
    if (Date.now() > end) throw new Error(`Waited in vain until ${what}.`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
