import os from "node:os";
import type { Socket } from "node:net";
import type { NetworkEnd } from "@/core/network/protocol";
import { SystemTree } from "../probe/tree";

/** The interface that a connection goes through at this end, with its rate and its largest frame. */
export async function endOf(socket: Socket): Promise<NetworkEnd> {
  const address = socket.localAddress?.replace(/^::ffff:/, "");
  const [name] =
    Object.entries(os.networkInterfaces()).find(([, list]) =>
      list?.some((one) => one.address === address),
    ) ?? [];
  if (!name) return { interface: null, megabits: null, mtu: null };
  const tree = new SystemTree();
  const number = async (what: string) => {
    const value = Number(await tree.read(`/sys/class/net/${name}/${what}`));
    return value > 0 ? value : null;
  };
  return { interface: name, megabits: await number("speed"), mtu: await number("mtu") };
}
