import net from "node:net";
import { setTimeout as sleep } from "node:timers/promises";
import { Refusal } from "../refusal";
import { wholeDevice } from "./device";
import type { Target } from "./target";

/**
 * One run per physical device at a time, across all processes of this machine. The lock is a
 * socket name in the kernel's abstract space: it vanishes with the process that holds it, so that a
 * crash cannot leave a device locked.
 *
 * @param targets of one run; several on one device share its lock
 * @returns releases the locks
 * @throws Refusal when another run holds one
 */
export async function lockDevices(targets: readonly Target[]): Promise<() => void> {
  const held = new Map<string, net.Server>();
  const free = () => held.forEach((server) => server.close());
  for (const target of targets) {
    const name = target.device
      ? await wholeDevice(target.device)
      : `file-system-${target.identity.dev}`;
    if (held.has(name)) continue;
    const server = await patientlyTaken(`\0nerrit/device/${name}`);
    if (server) held.set(name, server);
    else {
      free();
      throw new Refusal(
        "busy",
        `Another run is measuring ${target.deviceName ?? target.path}. Two runs on one drive would disturb each other: wait for it to end, or stop it.`,
      );
    }
  }
  return free;
}

/**
 * How long a lock is waited for, milliseconds: a run that is on its way out, and what clears up after one
 * that was killed, hold it for a moment.
 */
const PATIENCE_MS = 2000;
const AGAIN_MS = 50;

/** Takes a lock. @returns null where another run goes on holding it */
async function patientlyTaken(name: string): Promise<net.Server | null> {
  for (const begun = performance.now(); ; await sleep(AGAIN_MS)) {
    const server = await listen(name).catch(() => null);
    if (server || performance.now() - begun > PATIENCE_MS) return server;
  }
}

function listen(name: string): Promise<net.Server> {
  const server = net.createServer();
  return new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(name, () => resolve(server));
  });
}
