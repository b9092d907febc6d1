import type { SeenNode } from "@/core/system/system-report";
import { readAta } from "./ata";
import { readTemperatures } from "./disk";
import { CARD_HOST, readCard } from "./memory-card";
import { blankNode } from "@/core/system/blank-node";
import { PCI_ADDRESS, readPci } from "./pci";
import { readExpander, readSasPort, SAS_EXPANDER, SAS_PORT } from "./sas";
import { tunnelThrough } from "./thunderbolt";
import type { SystemTree } from "./tree";
import { readUsb } from "./usb";

/** The directories above a device, the host's first. */
export function above(at: string): string[] {
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
export const channelOf = (at: string) => Number(/\/\d+:(\d+):\d+:\d+\//.exec(at)?.[1] ?? 0);

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
