import { setTimeout as sleep, setImmediate as afterArrivals } from "node:timers/promises";
import type { Socket } from "node:net";
import type { Carried, Passage } from "@/core/network/protocol";
import { busiestCore } from "@/core/system/core-times";
import { readCoreTimes } from "../processor";

/** What arrived, to the moment: data that waits in the system is taken in before it is counted. */
async function now(sockets: readonly Socket[]): Promise<{ at: number; bytes: number }> {
  await afterArrivals();
  return {
    at: performance.now(),
    bytes: sockets.reduce((sum, { bytesRead }) => sum + bytesRead, 0),
  };
}

/**
 * Counts what arrives over some connections, between two instants while the flow goes on.
 *
 * @returns null where one of them ended before
 */
export async function countArrivals(
  sockets: readonly Socket[],
  { leadIn, seconds }: Passage,
): Promise<Carried | null> {
  const cut = new AbortController();
  const isCut = () => cut.signal.aborted;
  for (const socket of sockets) {
    socket.on("data", () => undefined); // what arrives is counted by the system, and kept nowhere
    socket.once("close", () => cut.abort());
    if (socket.destroyed) cut.abort();
  }
  const wait = (s: number) =>
    sleep(s * 1e3, undefined, { signal: cut.signal }).catch(() => undefined);
  await wait(leadIn);
  const cores = readCoreTimes();
  const processor = process.cpuUsage();
  const from = await now(sockets);
  await wait(seconds);
  const to = await now(sockets);
  if (isCut()) return null;
  const ms = to.at - from.at;
  const used = process.cpuUsage(processor);
  return {
    bytes: to.bytes - from.bytes,
    ms,
    process: Math.min(1, (used.user + used.system) / 1e3 / ms),
    busiestCore: busiestCore(cores, readCoreTimes()),
  };
}

/** Sends the same data again and again, as fast as it is taken, until the connection ends. */
export function send(socket: Socket, block: Buffer): void {
  const more = () => {
    while (!socket.destroyed && socket.write(block));
  };
  socket.on("drain", more);
  more();
}
