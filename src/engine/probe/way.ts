import { transportOf } from "@/core/system/transport";
import type { SeenLink, SeenNode, SeenWay } from "@/core/system/system-report";
import { above, channelOf, nodesAbove } from "./above";
import { readAta } from "./ata";
import type { Block } from "./blocks";
import { readDisk } from "./disk";
import { wayOfFabric } from "./network";
import { readSasLink, SAS_PORT } from "./sas";
import type { SystemTree } from "./tree";

/** The way from the host to a disk: every directory above it that is a device of its own. */
export async function wayTo(tree: SystemTree, disk: Block): Promise<SeenWay> {
  const at = await controllerPath(tree, disk);
  const nodes = [...(await wayOfFabric(tree, at)), ...(await nodesAbove(tree, at))];
  const last = nodes.at(-1);
  const seen = await readDisk(tree, disk.at, disk.name);
  const link = await diskLink(tree, at, nodes);
  if (last?.kind === "nvme") {
    last.model ??= seen.model;
    last.serial ??= seen.serial;
  } else if (last?.kind !== "memory-card") {
    nodes.push({ ...seen, link });
  }
  return { end: disk.name, nodes, transport: transportOf(nodes) };
}

/** A disk's directory; of an NVMe namespace with several controllers, the first one's. */
async function controllerPath(tree: SystemTree, { at, name: disk }: Block): Promise<string> {
  const subsystem = /^(.*\/nvme-subsystem\/[^/]+)\//.exec(at)?.[1];
  if (!subsystem) return at;
  const names = (await tree.list(subsystem)).filter((name) => /^nvme\d+$/.test(name));
  if (names.length > 1) {
    const why = `it is reached through several controllers (${names.join(", ")}); only the first is shown`;
    tree.miss(`other ways to ${disk}`, subsystem, why);
  }
  for (const name of names) {
    const controller = await tree.real(`${subsystem}/${name}`);
    if (controller) return `${controller}/${at.split("/").at(-1)}`;
  }
  return at;
}

/** The link of a disk that is not the link of what holds it: SATA, parallel ATA, SAS. */
async function diskLink(
  tree: SystemTree,
  at: string,
  nodes: readonly SeenNode[],
): Promise<SeenLink | null> {
  const port = nodes.find(({ kind }) => kind === "sata-port" || kind === "pata-port");
  if (port) return (await readAta(tree, port.at, channelOf(at))).link;
  // Behind an expander the last port is the disk's own.
  const sas = above(at).findLast((place) => SAS_PORT.test(place));
  return sas ? readSasLink(tree, sas, at.replace(/\/block\/.*$/, "")) : null;
}
