import type { TransportId } from "@/core/ledger/mode";
import type { SeenLink, SeenNode, SeenWay } from "@/core/system/report";
import { readAta, readSas } from "./ata";
import type { Block } from "./blocks";
import { readDisk, readTemperatures } from "./disk";
import { blankNode } from "./node";
import { PCI_ADDRESS, readPci } from "./pci";
import { readThunderbolt } from "./thunderbolt";
import type { SystemTree } from "./tree";
import { readUsb } from "./usb";

/** The way from the host to a disk: every directory above it that is a device of its own. */
export async function wayTo(tree: SystemTree, disk: Block): Promise<SeenWay> {
  const at = await controllerPath(tree, disk);
  const nodes = await nodesAbove(tree, at);
  const last = nodes.at(-1);
  const seen = await readDisk(tree, disk.at, disk.name);
  const link = await diskLink(tree, at, nodes);
  if (last?.kind === "nvme") {
    last.model ??= seen.model;
    last.serial ??= seen.serial;
  } else {
    nodes.push({ ...seen, link });
  }
  return { end: disk.name, nodes, transport: transportOf(nodes) };
}

/** A disk's directory; of an NVMe namespace with several controllers, the first one's. */
async function controllerPath(tree: SystemTree, { at }: Block): Promise<string> {
  const subsystem = /^(.*\/nvme-subsystem\/[^/]+)\//.exec(at)?.[1];
  if (!subsystem) return at;
  for (const name of await tree.list(subsystem)) {
    if (!/^nvme\d+$/.test(name)) continue;
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
  let outside = false;
  for (const place of above(at)) {
    const name = place.split("/").at(-1)!;
    if (PCI_ADDRESS.test(place)) {
      if (!outside && (await tree.read(`${place}/removable`)) === "removable") {
        outside = true;
        nodes.push(...(await thunderbolt(tree)));
      }
      // What comes first inside a tunnel names a link that is not there: the tunnel is.
      const inTunnel = nodes.at(-1)?.kind === "thunderbolt";
      nodes.push(await readPci(tree, place, inTunnel ? false : undefined));
    } else if (/\/usb\d+(\/|$)/.test(place) && USB_DEVICE.test(name)) {
      nodes.push(await readUsb(tree, place));
    } else if (/^ata\d+$/.test(name)) {
      nodes.push((await readAta(tree, place)).port);
    } else if (/^nvme\d+$/.test(name) && !place.includes("nvme-subsystem")) {
      const controller = nodes.pop();
      nodes.push(await nvme(tree, place, controller));
    }
  }
  return nodes;
}

const USB_DEVICE = /^(usb\d+|\d+-[\d.]+)$/;

/** Which Thunderbolt device a PCIe device is in the kernel does not say; where there is one, it is. */
async function thunderbolt(tree: SystemTree): Promise<SeenNode[]> {
  const found = await readThunderbolt(tree);
  if (found.length > 1) {
    const names = found.map(({ name }) => name).join(", ");
    const why = `there are several (${names}) and the system does not say which one holds the drive`;
    tree.miss("Thunderbolt device", "/sys/bus/thunderbolt/devices", why);
    return [];
  }
  return found;
}

/** An NVMe drive is its PCIe device and its controller in one. */
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
  if (port) return (await readAta(tree, port.at)).link;
  const sas = above(at).find((place) => /\/port-\d+:\d+(:\d+)?$/.test(place));
  return sas ? readSas(tree, sas) : null;
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
  if (nodes.at(-1)?.kind === "nvme") return "nvme";
  if (nodes.at(-1)?.link?.now.startsWith("SAS")) return "scsi";
  const controller = nodes.findLast(({ kind }) => kind === "pci-controller");
  if (nodes.some(({ kind }) => kind === "pata-port")) return "legacy-ata";
  if (!nodes.some(({ kind }) => kind === "sata-port")) return null;
  const depth = nodes.at(-1)?.facts.find(({ what }) => what === "requests at once")?.value;
  return controller?.driver === "ahci" && depth !== "1" ? "ahci" : "legacy-ata";
}
