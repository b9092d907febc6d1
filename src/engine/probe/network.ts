import net from "node:net";
import type { SeenNode, SeenWay } from "@/core/system/system-report";
import type { Mount } from "../target/mount";
import { readInterface } from "./interface";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";
import { nodesAbove } from "./above";

const NETWORK_TYPES = /^(nfs4?|cifs|smb3|smbfs|fuse\.sshfs|fuse\.smbnetfs|ceph|9p)$/;

/** The server and share of a mount that comes over the network; null for any other. */
export function shareOf({ type, source, options }: Mount): { host: string; share: string } | null {
  if (!NETWORK_TYPES.test(type)) return null;
  const address = /(?:^|,)addr=([^,]+)/.exec(options)?.[1];
  const windows = /^\/\/([^/]+)\/(.*)$/.exec(source);
  const unix = /^(?:[^@]*@)?(\[[^\]]+\]|[^:]+):(.*)$/.exec(source);
  const [, host, share] = windows ?? unix ?? [];
  if (!host) return null;
  return { host: address ?? host.replace(/^\[|\]$/g, ""), share: share ?? "" };
}

/** The way to a share: the interface that its traffic takes, and the server as far as it can be seen. */
export async function wayToShare(tree: SystemTree, mount: Mount): Promise<SeenWay | null> {
  const share = shareOf(mount);
  if (!share) return null;
  const name = await interfaceTo(tree, share.host);
  const nodes: SeenNode[] = [];
  if (name) nodes.push(...(await throughInterface(tree, name)));
  nodes.push({
    ...blankNode("network-share", mount.source, mount.source),
    facts: [{ what: "server", value: share.host, from: "/proc/self/mountinfo" }],
  });
  farSide(tree, "/proc/self/mountinfo");
  return { end: mount.source, nodes, transport: "network-file" };
}

/**
 * The network part of the way to an NVMe drive on another machine (its controller's `transport` is
 * tcp or rdma and `address` names the other side); nothing for a drive of this machine.
 *
 * @param at the namespace's directory, below its controller's
 */
export async function wayOfFabric(tree: SystemTree, at: string): Promise<SeenNode[]> {
  const controller = at.slice(0, at.lastIndexOf("/"));
  if (!/\/nvme-fabrics\//.test(controller)) return [];
  const address = (await tree.read(`${controller}/address`)) ?? "";
  const host = /(?:^|,)traddr=([^,]+)/.exec(address)?.[1];
  const name =
    /(?:^|,)host_iface=([^,]+)/.exec(address)?.[1] ?? (host && (await interfaceTo(tree, host)));
  farSide(tree, `${controller}/address`);
  return name ? throughInterface(tree, name) : [];
}

const farSide = (tree: SystemTree, from: string) =>
  tree.miss(
    "the far side of the network",
    from,
    "what holds the drive there, and over which links, cannot be seen from this host",
  );

async function throughInterface(tree: SystemTree, name: string): Promise<SeenNode[]> {
  const lower = await lowerInterface(tree, name);
  const seen = await readInterface(tree, lower);
  return [...(await nodesAbove(tree, seen.at)), seen];
}

/** A bridge, a bond or a VLAN lies on interfaces of its own; the first of them with a speed counts. */
async function lowerInterface(tree: SystemTree, name: string): Promise<string> {
  for (const entry of await tree.list(`/sys/class/net/${name}`)) {
    const lower = /^lower_(.+)$/.exec(entry)?.[1];
    if (lower && Number(await tree.read(`/sys/class/net/${lower}/speed`)) > 0) return lower;
  }
  return name;
}

/** The interface that leads to an address, by the most specific route (proc(5), /proc/net/route). */
async function interfaceTo(tree: SystemTree, host: string): Promise<string | null> {
  const from = "/proc/net/route";
  const table = await tree.read(from);
  if (!table || net.isIP(host) === 6) {
    tree.miss("interface to the server", from, `no IPv4 route to ${host} can be read`);
    return null;
  }
  const address = net.isIP(host) === 4 ? toNumber(host) : null;
  const routes = table
    .split("\n")
    .slice(1)
    .map((line) => line.trim().split(/\s+/))
    .filter((fields) => fields.length >= 8 && (Number(`0x${fields[3]}`) & 1) === 1)
    .map((fields) => ({
      name: fields[0]!,
      to: littleEndian(fields[1]!),
      mask: littleEndian(fields[7]!),
    }))
    // A name that was not resolved says nothing of the network: only the default route is left.
    .filter(({ to, mask }) => (address === null ? mask === 0 : (address & mask) >>> 0 === to))
    .toSorted((a, b) => b.mask - a.mask);
  if (address === null) {
    tree.miss("address of the server", from, `${host} is a name: the default route was taken`);
  }
  if (routes.length === 0)
    tree.miss("interface to the server", from, `there is no route to ${host}`);
  return routes[0]?.name ?? null;
}

/** An IPv4 address as a number, the first byte highest. */
const toNumber = (address: string) =>
  address.split(".").reduce((sum, byte) => sum * 256 + Number(byte), 0);

/** The table writes addresses in hexadecimal, the lowest byte first. */
const littleEndian = (hex: string) =>
  (hex.match(/../g) ?? []).reduceRight((sum, byte) => sum * 256 + parseInt(byte, 16), 0);
