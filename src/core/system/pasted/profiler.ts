import { pcieMode, tunnelMode, usbMode } from "../modes";
import type { SeenBlock, SeenNode } from "../system-report";
import { bytesIn, diskOf, linkOf, megabitsIn, nodeOf, type PastedDrive } from "./made";
import { readTree, saidOf, type Item, type Said } from "./tree";

/**
 * `system_profiler` of macOS in its text form: USB, Thunderbolt and NVMe trees (system_profiler(8)). What is
 * read is that the system itself writes in English; names of things are the devices' own.
 */

const SECTIONS = {
  usb: /^USB$/,
  tunnel: /^Thunderbolt(\/USB4)?$/,
  nvme: /^NVMExpress$/,
};

export const isProfilerText = (text: string): boolean =>
  /^\s*(USB|Thunderbolt(\/USB4)?|NVMExpress):\s*$/m.test(text);

/** The drives in such a text, and enclosures whose drives it does not place. */
export function drivesOfProfiler(text: string): PastedDrive[] {
  const sections = readTree(text);
  const below = (what: RegExp) =>
    sections.filter(({ name }) => what.test(name)).flatMap(({ items }) => items);
  const usb = below(SECTIONS.usb).flatMap((bus) => usbDrives(bus, [rootOf(bus)]));
  const tunnels = below(SECTIONS.tunnel).flatMap((bus) => tunnelEnds(bus, [hostOf(bus)]));
  const nvme = below(SECTIONS.nvme).flatMap((controller) => nvmeDrives(controller));
  const outside = nvme.filter(({ removable }) => removable);
  if (tunnels.length === 1 && outside.length === 1) {
    const [[tunnel], [drive]] = [tunnels, outside] as [[PastedDrive], [NvmeDrive]];
    const joined = joinedBy(tunnel, drive);
    return [...usb, joined, ...nvme.filter((one) => one !== drive).map(({ pasted }) => pasted)];
  }
  return [...usb, ...tunnels, ...nvme.map(({ pasted }) => pasted)];
}

const SPEED = ["Speed", "Current Speed", "Link Speed"];

/** A thing on a bus: one that is connected, and no description of something else. */
const isDevice = (item: Item) =>
  saidOf(item, "Product ID", "Vendor ID", "Location ID", "Device Name", "UID") !== null;

/**
 * The devices next below a thing. What a port is said to be stands indented less than the device that hangs
 * on the port, so that a device may stand below the port's description.
 */
const devicesBelow = (item: Item): Item[] =>
  item.items.flatMap((below) => (isDevice(below) ? [below] : devicesBelow(below)));

function described(node: SeenNode, item: Item): SeenNode {
  const [maker, serial] = [
    saidOf(item, "Manufacturer", "Vendor Name"),
    saidOf(item, "Serial Number"),
  ];
  node.maker = maker?.value || null;
  node.model = node.name;
  node.serial = serial?.value || null;
  return node;
}

/* ---- USB ---- */

function rootOf(bus: Item): SeenNode {
  return nodeOf("usb-root", bus.name, `line ${bus.line}`, [
    ["controller", saidOf(bus, "Host Controller Driver")],
  ]);
}

/** Where a device hangs: "0x02110000 / 3" is of the bus and its ports. */
const placeOf = (item: Item): string =>
  saidOf(item, "Location ID")?.value.split(" ")[0] ?? `line ${item.line}`;

function usbDrives(above: Item, way: readonly SeenNode[]): PastedDrive[] {
  return devicesBelow(above).flatMap((item) => {
    const hangs = devicesBelow(item).length > 0;
    const node = described(
      nodeOf(hangs ? "usb-hub" : "usb-device", item.name, placeOf(item), [
        ["USB version of the device", saidOf(item, "Version")],
        ["power asked for", saidOf(item, "Current Required (mA)")],
      ]),
      item,
    );
    const speed = saidOf(item, ...SPEED);
    const megabits = speed && megabitsIn(speed.value);
    if (speed) node.link = linkOf(speed, megabits === null ? null : usbMode(String(megabits)));
    const nodes = [...way, node];
    if (hangs) return usbDrives(item, nodes);
    const media = item.items.filter(({ name }) => name === "Media").flatMap(({ items }) => items);
    const disks = media.map(mediumOf);
    return (disks.length > 0 ? disks : [null]).map((disk) => ({
      way: { end: disk ? `${item.name} (${disk.name})` : item.name, nodes, transport: null },
      disk,
      gaps: [],
    }));
  });
}

function mediumOf(item: Item): SeenBlock {
  const [name, capacity] = [saidOf(item, "BSD Name"), saidOf(item, "Capacity")];
  return diskOf(name?.value ?? item.name, capacity && bytesIn(capacity.value));
}

/* ---- Thunderbolt and USB4 ---- */

const hostOf = (bus: Item): SeenNode => nodeOf("pci-controller", bus.name, `line ${bus.line}`);

function tunnelEnds(above: Item, way: readonly SeenNode[]): PastedDrive[] {
  return devicesBelow(above).flatMap((item) => {
    const upstream = item.items.find(({ name }) => /^Port \(Upstream\)$/i.test(name)) ?? item;
    const node = described(
      nodeOf("thunderbolt", item.name, `line ${item.line}`, [["mode", saidOf(item, "Mode")]]),
      item,
    );
    const speed = saidOf(upstream, ...SPEED);
    if (speed) node.link = linkOf(speed, tunnelOf(speed, saidOf(item, "Mode")));
    const nodes = [...way, node];
    const further = tunnelEnds(item, nodes);
    if (further.length > 0) return further;
    return [{ way: { end: item.name, nodes, transport: null }, disk: null, gaps: [NO_DRIVE] }];
  });
}

const NO_DRIVE = {
  what: "the drive inside",
  from: "the text",
  why: "the report does not say which drive is in which Thunderbolt device",
};

/** The mode of a tunnel's link: by the generation that the report names, else by the rate alone. */
function tunnelOf(speed: Said, mode: Said | null): string | null {
  const gigabits = (megabitsIn(speed.value) ?? 0) / 1000;
  const lane = (generation: string) => tunnelMode(generation, `${gigabits / 2} Gb/s`, "2", "2");
  if (mode && /USB4/.test(mode.value)) return lane("4");
  const named = /Thunderbolt (\d)/.exec(mode?.value ?? "")?.[1];
  if (named) return lane(Number(named) > 3 ? "4" : named);
  const usual: Record<number, string> = { 10: "1", 20: "2", 40: "3" };
  return usual[gigabits] ? lane(usual[gigabits]) : lane("4");
}

/* ---- NVMe ---- */

interface NvmeDrive {
  pasted: PastedDrive;
  removable: boolean;
}

function nvmeDrives(controller: Item): NvmeDrive[] {
  const port = nodeOf("pcie-port", controller.name, `line ${controller.line}`);
  return controller.items
    .filter((item) => saidOf(item, "Capacity", "Model") !== null)
    .map((item) => {
      const [width, speed] = [saidOf(item, "Link Width"), saidOf(item, "Link Speed")];
      const model = saidOf(item, "Model");
      const node = described(nodeOf("nvme", item.name, `line ${item.line}`), item);
      node.model = model?.value ?? item.name;
      if (width && speed) {
        const lanes = width.value.replace(/^x/i, "");
        const said = { value: `${speed.value} PCIe ×${lanes}`, line: speed.line };
        node.link = linkOf(said, pcieMode(speed.value, lanes));
      }
      const [name, capacity] = [saidOf(item, "BSD Name"), saidOf(item, "Capacity")];
      return {
        removable: saidOf(item, "Detachable Drive")?.value === "Yes",
        pasted: {
          way: { end: item.name, nodes: [port, node], transport: "nvme" as const },
          disk: diskOf(name?.value ?? item.name, capacity && bytesIn(capacity.value)),
          gaps: [],
        },
      };
    });
}

/** The one drive that can be taken out, in the one Thunderbolt device that is there. */
function joinedBy(tunnel: PastedDrive, { pasted }: NvmeDrive): PastedDrive {
  const drive = pasted.way.nodes.at(-1)!;
  const why = "concluded: one Thunderbolt device and one drive that can be taken out are there";
  return {
    way: {
      end: `${drive.name} in ${tunnel.way.end}`,
      nodes: [...tunnel.way.nodes, drive],
      transport: "nvme",
    },
    disk: pasted.disk,
    gaps: [{ what: "that the drive is in that device", from: "the text", why }],
  };
}
