import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import path from "node:path";
import { bundled } from "../bundled.mjs";
import { root } from "../prepare.mjs";

/** What fills a data folder with runs from the simulated bench. */
export const seeding = () => bundled(["services/testing/many-runs", "store/database"]);

/**
 * Starts Nerrit on a data folder, from what is built.
 *
 * @returns {Promise<{ url: string, ms: number, memoryMB: () => number, end: () => Promise<void> }>} with how
 *   long it took, and the most memory that its server has had so far
 */
export async function serve(folder) {
  const began = performance.now();
  const port = 4700 + Math.floor(Math.random() * 200);
  const child = spawn(
    process.execPath,
    [path.join(root, "scripts/start.mjs"), "--port", String(port)],
    { env: { ...process.env, NERRIT_DATA: folder }, stdio: ["ignore", "pipe", "inherit"] },
  );
  await new Promise((resolve, reject) => {
    let said = "";
    child.stdout.on("data", (text) => {
      said += text;
      if (said.includes("Nerrit is at")) resolve();
    });
    child.once("exit", () => reject(new Error(`The server did not start: ${said}`)));
  });
  const ms = performance.now() - began;
  return {
    url: `http://127.0.0.1:${port}`,
    ms,
    memoryMB: () => Math.max(...childrenOf(child.pid).map(peakMB)),
    end: async () => {
      const gone = once(child, "exit");
      child.kill("SIGINT");
      await gone;
    },
  };
}

const childrenOf = (pid) =>
  fs.readFileSync(`/proc/${pid}/task/${pid}/children`, "utf8").trim().split(/\s+/).filter(Boolean);

/** The most memory a process had, 10^6 bytes (VmHWM of proc(5)). */
const peakMB = (pid) =>
  (Number(/VmHWM:\s+(\d+)/.exec(fs.readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) * 1024) /
  1e6;
