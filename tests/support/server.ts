import { spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import net from "node:net";
import os from "node:os";
import path from "node:path";
import { ROOT } from "./command";

/** Nerrit as a user starts it, on a free port and with its own data folder. */
export interface Server {
  url: string;
  data: string;
  process: ChildProcess;
  /** Everything it printed. */
  said(): string;
  /** Ends it with a signal. @returns its exit status */
  end(signal?: NodeJS.Signals): Promise<number | null>;
}

/** A data folder as a first start and its first page leave it: copied where one was laid out, to save the seeding. */
export function newFolder(): string {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-data-"));
  const laidOut = process.env.NERRIT_FIRST_START;
  if (laidOut) fs.cpSync(laidOut, folder, { recursive: true });
  return folder;
}

export async function freePort(): Promise<number> {
  const probe = net.createServer().listen(0, "127.0.0.1");
  await once(probe, "listening");
  const { port } = probe.address() as net.AddressInfo;
  probe.close();
  await once(probe, "close");
  return port;
}

/**
 * @param data a data folder; a new one, with the sample studies, if left out
 * @param surroundings variables beside those of the test
 */
export async function startServer(
  data = newFolder(),
  surroundings: Record<string, string> = {},
): Promise<Server> {
  const port = await freePort();
  const child = spawn(process.execPath, ["scripts/start.mjs", "--port", String(port)], {
    cwd: ROOT,
    env: { ...process.env, NERRIT_DATA: data, NODE_ENV: "production", ...surroundings },
    stdio: ["ignore", "pipe", "pipe"],
    detached: true, // a group of its own, as a terminal gives it
  });
  let said = "";
  child.stderr.on("data", (chunk) => (said += chunk));
  await new Promise<void>((resolve, reject) => {
    child.stdout.on("data", (chunk) => {
      said += chunk;
      if (/Nerrit is at/.test(said)) resolve();
    });
    child.once("exit", () => reject(new Error(`Nerrit did not start: ${said}`)));
  });
  return {
    url: `http://127.0.0.1:${port}`,
    data,
    process: child,
    said: () => said,
    async end(signal = "SIGINT") {
      if (child.exitCode === null && child.signalCode === null) {
        const gone = once(child, "exit");
        process.kill(-child.pid!, signal);
        await gone;
      }
      return child.exitCode;
    },
  };
}
