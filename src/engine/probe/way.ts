import type { TransportId } from "@/core/ledger/mode";
import type { SeenLink, SeenNode, SeenWay } from "@/core/system/report";
import { readAta } from "./ata";
import type { Block } from "./blocks";
import { readDisk, readTemperatures } from "./disk";
import { CARD_HOST, readCard } from "./memory-card";
import { wayOfFabric } from "./network";
import { blankNode } from "./node";
import { PCI_ADDRESS, readPci } from "./pci";
import { readExpander, readSasLink, readSasPort, SAS_EXPANDER, SAS_PORT } from "./sas";
import { tunnelThrough } from "./thunderbolt";
import type { SystemTree } from "./tree";
import { readUsb } from "./usb";

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

/** The directories above a device, the host's first. */
function above(at: string): string[] {
  const names = at.split("/").filter(Boolean);
  return names.map((_, i) => `/${names.slice(0, i + 1).join("/")}`);
}

/** The controllers, ports, hubs and bridges above a device, the host's first. */
export async function nodesAbove(tree: SystemTree, at: string): Promise<SeenNode[]> {
  const nodes: SeenNode[] = [];
  const places = above(at);
  const tunnel = await tunnelThrough(
    tree,
    places.filter((place) => PCI_ADDRESS.test(place)),
  );
  for (const place of places) {
    const name = place.split("/").at(-1)!;
    if (PCI_ADDRESS.test(place)) {
      if (place === tunnel?.entry) nodes.push(...tunnel.nodes);
      nodes.push(await readPci(tree, place, tunnel?.hops.has(place) ? false : undefined));
    } else if (/\/usb\d+(\/|$)/.test(place) && USB_DEVICE.test(name)) {
      nodes.push(await readUsb(tree, place));
    } else if (/^ata\d+$/.test(name)) {
      const { port, multiplier } = await readAta(tree, place, channelOf(at));
      nodes.push(port, ...(multiplier ? [multiplier] : []));
    } else if (SAS_PORT.test(place)) {
      nodes.push(await readSasPort(tree, place));
    } else if (SAS_EXPANDER.test(place)) {
      // The port above it says the same of their link.
      if (nodes.at(-1)?.kind === "sas-port") nodes.pop();
      nodes.push(await readExpander(tree, place));
    } else if (/^nvme\d+$/.test(name) && !place.includes("nvme-subsystem")) {
      const isPci = nodes.at(-1)?.kind === "pci-controller";
      nodes.push(await nvme(tree, place, isPci ? nodes.pop() : undefined));
    } else if (CARD_HOST.test(place.slice(0, place.lastIndexOf("/")))) {
      nodes.push(await readCard(tree, place));
    }
  }
  return nodes;
}

const USB_DEVICE = /^(usb\d+|\d+-[\d.]+)$/;

/** The SCSI channel in a disk's address, ".../2:0:0:0/block/sda". */
const channelOf = (at: string) => Number(/\/\d+:(\d+):\d+:\d+\//.exec(at)?.[1] ?? 0);

/** An NVMe drive is its PCIe device and its controller in one; over a network it has no PCIe device. */
async function nvme(tree: SystemTree, at: string, pci: SeenNode | undefined): Promise<SeenNode> {
  const [model, serial] = await Promise.all([tree.read(`${at}/model`), tree.read(`${at}/serial`)]);
  if (pci && !pci.link) {
    tree.miss("PCIe link of the drive", `${pci.at}/current_link_speed`, "the system does not say");
  }
  return {
    ...(pci ?? blankNode("nvme", "NVMe drive", at)),
    kind: "nvme",
    name: model ?? "NVMe drive",
    model,
    serial,
    facts: [
      ...(pci?.facts ?? []),
      ...(await tree.fact("firmware", `${at}/firmware_rev`)),
      ...(await tree.fact("carried over", `${at}/transport`)),
      ...(await tree.fact("address", `${at}/address`)),
      ...(await tree.fact("model", `${at}/model`)),
      ...(await tree.fact("serial number", `${at}/serial`)),
      ...(await readTemperatures(tree, at)),
      ...(pci ? await readTemperatures(tree, pci.at) : []),
    ],
  };
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

/** How requests travel, by the driver nearest to the drive that says so. */
function transportOf(nodes: readonly SeenNode[]): TransportId | null {
  const usb = nodes.findLast(({ kind }) => kind === "usb-device");
  if (usb)
    return usb.driver === "uas"
      ? "usb-queued"
      : usb.driver === "usb-storage"
        ? "usb-unqueued"
        : null;
  const kinds = nodes.map(({ kind }) => kind);
  if (kinds.at(-1) === "nvme") return "nvme";
  if (kinds.at(-1) === "memory-card") return "sd-card";
  if (kinds.includes("sas-port") || kinds.includes("sas-expander")) return "scsi";
  const controller = nodes.findLast(({ kind }) => kind === "pci-controller");
  if (kinds.includes("pata-port")) return "legacy-ata";
  if (!kinds.includes("sata-port")) return null;
  const depth = nodes.at(-1)?.facts.find(({ what }) => what === "requests at once")?.value;
  return controller?.driver === "ahci" && depth !== "1" ? "ahci" : "legacy-ata";
}
