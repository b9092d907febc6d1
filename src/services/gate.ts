import { subscribe } from "node:diagnostics_channel";
import fs from "node:fs";
import type { IncomingMessage } from "node:http";
import type { Socket } from "node:net";
import { REFUSED, type RefusedFor } from "@/core/units/refused";

/**
 * Looks at each request before the application does. What is refused here is marked by a header of its own
 * and goes no further than the proxy, which answers it (src/proxy.ts).
 *
 * @param anyUser whether other users of this machine may use it too
 */
export function guardRequests(anyUser: boolean): void {
  const known = new WeakMap<Socket, boolean>();
  const isOwn = (socket: Socket) => {
    const own = known.get(socket) ?? ownsConnection(socket);
    known.set(socket, own);
    return own;
  };
  subscribe("http.server.request.start", (message) => {
    const { request, socket } = message as { request: IncomingMessage; socket: Socket };
    delete request.headers[REFUSED];
    const why: RefusedFor | null =
      !anyUser && !isOwn(socket)
        ? "other user"
        : request.method === "TRACE"
          ? "method"
          : isAddress(request.url ?? "")
            ? null
            : "address";
    if (!why) return;
    request.headers[REFUSED] = why;
    [request.method, request.url] = ["GET", "/"];
  });
}

function isAddress(url: string): boolean {
  try {
    decodeURIComponent(url);
    return true;
  } catch {
    return false;
  }
}

/**
 * Whether the other end of a connection over loopback belongs to this process's user, or to root, by the
 * kernel's table of connections (proc_net_tcp): its line has the user and, as long as a process holds it,
 * an inode. An end that nobody holds any more is nobody's.
 */
function ownsConnection({ remotePort, localPort }: Socket): boolean {
  const own = process.getuid?.();
  if (own === undefined) return true;
  for (const table of ["/proc/net/tcp", "/proc/net/tcp6"]) {
    let text: string;
    try {
      text = fs.readFileSync(/* turbopackIgnore: true */ table, "utf8");
    } catch {
      continue;
    }
    for (const line of text.split("\n").slice(1)) {
      const [, local, remote, , , , , uid, , inode] = line.trim().split(/\s+/);
      if (!local || portOf(local) !== remotePort || portOf(remote!) !== localPort) continue;
      return inode !== "0" && (Number(uid) === own || Number(uid) === 0);
    }
  }
  // A system that keeps no such table tells nothing.
  return !fs.existsSync(/* turbopackIgnore: true */ "/proc/net/tcp");
}

const portOf = (address: string) => Number.parseInt(address.split(":").at(-1)!, 16);
