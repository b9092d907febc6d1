import net, { type Socket } from "node:net";
import { once } from "node:events";
import { randomBytes } from "node:crypto";
import type { Hello, NetworkEvent, NetworkJob, Passage } from "@/core/network/protocol";
import { RunFailure, systemCode } from "../refusal";
import { countArrivals, send } from "./counting";
import { endOf } from "./end";

type Asked = Extract<NetworkJob, { role: "ask" }>;

/** So long a connection is waited for. */
const CONNECT_MS = 10_000;

/**
 * The asking end: connects to the other end for one passage after the other, and counts what it is sent. What it
 * sends is counted at the other end, which ends such a passage.
 *
 * @throws RunFailure where the other end is not reached, or a passage is cut
 */
export async function ask(
  { token, address, port, passages }: Asked,
  tell: (event: NetworkEvent) => void,
  stop: AbortSignal,
): Promise<void> {
  for (const [number, passage] of passages.entries()) {
    if (stop.aborted) return;
    const sockets: Socket[] = [];
    const halt = () => sockets.forEach((socket) => socket.destroy());
    stop.addEventListener("abort", halt);
    try {
      for (let k = 0; k < passage.connections; k++) {
        const socket = await connect(address, port);
        sockets.push(socket);
        if (number === 0 && k === 0) tell({ event: "end", end: await endOf(socket) });
      }
      tell({ event: "begun", passage: number });
      const hello: Hello = { ...passage, token, passage: number };
      for (const socket of sockets) socket.write(`${JSON.stringify(hello)}\n`);
      await pass(sockets, passage, number, tell, stop);
    } finally {
      stop.removeEventListener("abort", halt);
      halt();
    }
  }
  if (stop.aborted) return;
  tell({ event: "done" });
}

async function pass(
  sockets: readonly Socket[],
  passage: Passage,
  number: number,
  tell: (event: NetworkEvent) => void,
  stop: AbortSignal,
): Promise<void> {
  if (passage.direction === "read") {
    const carried = await countArrivals(sockets, passage);
    if (carried) tell({ event: "carried", passage: number, carried });
    else if (!stop.aborted)
      throw new RunFailure("The connection was cut while data came over the network.");
    return;
  }
  const block = randomBytes(passage.block);
  const closed = sockets.map(
    (socket) => new Promise<void>((resolve) => socket.once("close", () => resolve())),
  );
  for (const socket of sockets) send(socket, block);
  await Promise.all(closed);
}

async function connect(address: string, port: number): Promise<Socket> {
  const socket = net.connect({ host: address, port, noDelay: true });
  socket.setTimeout(CONNECT_MS, () => socket.destroy(new Error("nothing answered")));
  try {
    await once(socket, "connect");
  } catch (error) {
    throw new RunFailure(`No connection to ${address}, port ${port}: ${whyNot(error as Error)}`);
  }
  socket.setTimeout(0);
  socket.on("error", () => socket.destroy());
  return socket;
}

/** Why a connection was not made, and what to do about it. */
function whyNot(error: Error): string {
  const code = systemCode(error);
  if (code === "ENETUNREACH" || code === "EHOSTUNREACH")
    return "there is no way to that address from here. Name one that both machines know.";
  if (code === "ENOTFOUND" || code === "EAI_AGAIN") return "nobody knows that name here.";
  return `${code ?? error.message}. A firewall may stand between the two: let them connect for the time of the measurement.`;
}
