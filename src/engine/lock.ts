import net from "node:net";
import { Refusal } from "./refusal";
import { wholeDevice } from "./device";
import type { Target } from "./target";

/**
 * One run per physical device at a time, across all processes of this machine. The lock is a
 * socket name in the kernel's abstract space: it vanishes with the process that holds it, so that a
 * crash cannot leave a device locked.
 *
 * @returns releases the lock
 * @throws Refusal when another run holds it
 */
export async function lockDevice(target: Target): Promise<() => void> {
  const device = target.device
    ? await wholeDevice(target.device)
    : `file-system-${target.identity.dev}`;
  const server = net.createServer();
  try {
    await new Promise<void>((resolve, reject) => {
      server.once("error", reject);
      server.listen(`\0nerrit/device/${device}`, resolve);
    });
  } catch {
    throw new Refusal(
      "busy",
      `Another run is measuring ${target.deviceName ?? target.path}. Two runs on one drive would disturb each other: wait for it to end, or stop it.`,
    );
  }
  return () => server.close();
}
