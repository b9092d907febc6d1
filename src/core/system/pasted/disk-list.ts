import { pcieMode } from "../modes";
import { bytesIn, diskOf, linkOf, nodeOf, type PastedDrive } from "./made";
import type { Said } from "./tree";

/**
 * Lists of disks, a block of "heading : value" lines each: `Get-PhysicalDisk | Format-List` of Windows, and
 * `diskutil info` of macOS. They tell which drives there are; of links, only those of PCIe devices, where
 * Get-PnpDeviceProperty was asked for them (DEVPKEY_PciDevice_*, pciprop.h).
 */

type Block = Map<string, Said>;

const HEADING = /^\s*([\w/() -]+?)\s*:\s+(.*)$/;

export const isDiskList = (text: string): boolean =>
  /^\s*(FriendlyName|Device \/ Media Name|KeyName)\s*:/m.test(text);

/** The drives in such a text, and PCIe devices whose link it tells. */
export function drivesOfDiskList(text: string): PastedDrive[] {
  const blocks = blocksOf(text);
  const disks = blocks.flatMap((block) => diskIn(block) ?? []);
  const links = linksIn(blocks);
  const nvme = disks.filter(({ way }) => way.transport === "nvme");
  // One of each: the link is the drive's.
  if (nvme.length === 1 && links.length === 1) {
    const [{ way }] = nvme as [PastedDrive];
    const node = way.nodes.at(-1)!;
    node.link = links[0]!.way.nodes.at(-1)!.link;
    return disks;
  }
  return [...disks, ...links];
}

function blocksOf(text: string): Block[] {
  const blocks: Block[] = [];
  let open: Block | null = null;
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    const found = HEADING.exec(line);
    if (!found) {
      if (line.trim() === "") open = null;
      continue;
    }
    const [, heading, value] = found as unknown as [string, string, string];
    if (!open) blocks.push((open = new Map()));
    open.set(heading, { value: value.trim(), line: i + 1 });
  }
  return blocks;
}

function diskIn(block: Block): PastedDrive | null {
  const name = block.get("FriendlyName") ?? block.get("Device / Media Name");
  if (!name?.value) return null;
  const [bus, size] = [
    block.get("BusType") ?? block.get("Protocol"),
    block.get("Size") ?? block.get("Disk Size") ?? block.get("Total Size"),
  ];
  const isNvme = bus?.value === "NVMe" || bus?.value === "PCI-Express";
  const kind = isNvme ? "nvme" : "disk";
  const node = nodeOf(kind, name.value, block.get("Device Identifier")?.value ?? name.value, [
    ["attached by", bus ?? null],
  ]);
  node.model = name.value;
  // Some makers fill the number with dots, or end it with one.
  node.serial = block.get("SerialNumber")?.value.replace(/[._]+$/, "") || null;
  return {
    way: { end: name.value, nodes: [node], transport: isNvme ? "nvme" : null },
    disk: diskOf(name.value, size ? bytesIn(size.value.replace(/^[^(]*(?=\()/, "")) : null),
    gaps: isNvme ? [] : [{ what: "speed of its link", from: "the text", why: NOT_TOLD }],
  };
}

const NOT_TOLD = "this list tells how a drive is attached, and not at which speed";

/** Speeds of PCIe by their number in the link status (PCI Express Base Specification, Link Status Register). */
const SPEEDS: Record<string, string> = {
  "1": "2.5 GT/s",
  "2": "5.0 GT/s",
  "3": "8.0 GT/s",
  "4": "16.0 GT/s",
  "5": "32.0 GT/s",
  "6": "64.0 GT/s",
};

/** Speed and width of PCIe devices, which stand in a block each: put together by the device's number. */
function linksIn(blocks: readonly Block[]): PastedDrive[] {
  const devices = new Map<string, Map<string, Said>>();
  for (const block of blocks) {
    const [device, key, data] = ["InstanceId", "KeyName", "Data"].map((name) => block.get(name));
    if (!device || !key || !data?.value) continue;
    const values = devices.get(device.value) ?? new Map<string, Said>();
    devices.set(device.value, values.set(key.value.replace(/^DEVPKEY_(PciDevice_)?/, ""), data));
  }
  return [...devices].flatMap(([id, values]) => {
    const [speed, width] = [values.get("CurrentLinkSpeed"), values.get("CurrentLinkWidth")];
    const words = speed && SPEEDS[speed.value];
    if (!words || !width) return [];
    const name = values.get("NAME")?.value ?? id;
    const node = nodeOf("nvme", name, id);
    const said = { value: `${words} PCIe ×${width.value}`, line: speed.line };
    node.link = linkOf(said, pcieMode(words, width.value));
    return [
      { way: { end: name, nodes: [node], transport: "nvme" as const }, disk: null, gaps: [] },
    ];
  });
}
