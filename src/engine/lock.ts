import net from "node:net";
import { Refusal } from "./refusal";
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
    try {
      held.set(name, await listen(`\0nerrit/device/${name}`));
    } catch {
      free();
      throw new Refusal(
        "busy",
        `Another run is measuring ${target.deviceName ?? target.path}. Two runs on one drive would disturb each other: wait for it to end, or stop it.`,
      );
    }
  }
  return free;
}

function listen(name: string): Promise<net.Server> {
  const server = net.createServer();
  return new Promise((resolve, reject) => {
    server.once("error", reject);
    server.listen(name, () => resolve(server));
  });
}
