import net, { type Socket } from "node:net";
import { once } from "node:events";
import { randomBytes, timingSafeEqual } from "node:crypto";
import { Hello, type NetworkEvent } from "@/core/network/protocol";
import { countArrivals, send } from "./counting";
import { endOf } from "./end";

/** A connection that does not say what it is for is closed. */
const HELLO_MS = 5000;
const MOST_HELLO = 1000;

/**
 * The answering end: takes connections at a port of the system's choosing, sends to those that ask for it, and
 * counts what the others send. Whoever does not know the token is sent nothing.
 *
 * @param stop ends it
 */
export async function answer(
  token: string,
  tell: (event: NetworkEvent) => void,
  stop: AbortSignal,
): Promise<void> {
  const open = new Set<Socket>();
  /** Connections of passages that wait until all of theirs are there. */
  const waiting = new Map<number, Socket[]>();
  let isTold = false;
  const take = async (socket: Socket) => {
    open.add(socket);
    socket.on("error", () => socket.destroy());
    socket.once("close", () => open.delete(socket));
    const hello = await helloOf(socket, token);
    if (!hello) return socket.destroy();
    if (!isTold) {
      isTold = true;
      tell({ event: "end", end: await endOf(socket) });
    }
    if (hello.direction === "read") return send(socket, randomBytes(hello.block));
    const all = [...(waiting.get(hello.passage) ?? []), socket];
    waiting.set(hello.passage, all);
    if (all.length < hello.connections) return;
    waiting.delete(hello.passage);
    const carried = await countArrivals(all, hello);
    if (carried) tell({ event: "carried", passage: hello.passage, carried });
    for (const one of all) one.destroy();
  };
  const server = net.createServer({ noDelay: true }, (socket) => void take(socket));
  server.listen(0);
  await once(server, "listening");
  const { port } = server.address() as net.AddressInfo;
  tell({ event: "listening", port, address: reachedAt() });
  if (!stop.aborted) await once(stop, "abort");
  server.close();
  for (const socket of open) socket.destroy();
}

/** The address at which this machine was logged into (ssh(1), ENVIRONMENT, SSH_CONNECTION); null where it was not. */
const reachedAt = (): string | null => process.env.SSH_CONNECTION?.split(" ")[2] ?? null;

/** What a connection is for; null where it does not say so, or does not know the token. */
async function helloOf(socket: Socket, token: string): Promise<Hello | null> {
  const timer = setTimeout(() => socket.destroy(), HELLO_MS);
  let text = "";
  try {
    for await (const chunk of socket.iterator({ destroyOnReturn: false })) {
      text += String(chunk);
      if (text.includes("\n") || text.length > MOST_HELLO) break;
    }
    const hello = Hello.parse(JSON.parse(text.split("\n")[0]!));
    const [said, own] = [hello.token, token].map((one) => Buffer.from(one));
    return said!.length === own!.length && timingSafeEqual(said!, own!) ? hello : null;
  } catch {
    return null;
  } finally {
    clearTimeout(timer);
  }
}
