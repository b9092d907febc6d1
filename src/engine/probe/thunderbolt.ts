import { tunnelMode } from "@/core/system/modes";
import type { SeenNode } from "@/core/system/system-report";
import { isLowerEnd, PCI_ADDRESS } from "./pci";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** A Thunderbolt or USB4 device, and where its route places it (ABI: sysfs-bus-thunderbolt). */
interface Device {
  node: SeenNode;
  domain: string;
  /** Port by port from the host, two hexadecimal digits each, the first hop last. */
  route: string;
}

/** The part of a way that runs through a tunnel: whose links the PCIe attributes inside do not tell. */
export interface Tunnel {
  /** The first PCI device inside. */
  entry: string;
  /** Devices of the tunnel on the way, the host's first. */
  nodes: SeenNode[];
  /** PCI devices whose link upwards is a hop of the tunnel. */
  hops: Set<string>;
}

const BUS = "/sys/bus/thunderbolt/devices";
/** Hops of one route, two digits each. */
const DIGITS = 2;

/**
 * Finds the tunnel that a PCI device is reached through, if any.
 *
 * PCIe attributes inside a tunnel speak of links that are not there ("2.5 GT/s", four lanes), so they
 * must not be taken for one. That a tunnel begins is told by the kernel (`removable`, since 5.14), by
 * a port that depends on a Thunderbolt controller (`supplier:pci:...`), by standing below the same
 * switch as such a controller, or else by those link attributes beside Thunderbolt devices.
 *
 * @param places PCI devices above a disk, the host's first
 */
export async function tunnelThrough(
  tree: SystemTree,
  places: readonly string[],
): Promise<Tunnel | null> {
  const names = await tree.list(BUS);
  const controllers = await Promise.all(
    names
      .filter((name) => /^domain\d+$/.test(name))
      .map(async (name) => ({ name, at: await tree.real(`${BUS}/${name}`) })),
  );
  const devices = await readDevices(tree, names);
  const found =
    (await byPlacement(tree, places)) ??
    (await bySupplier(tree, places, controllers)) ??
    bySwitch(places, controllers) ??
    (devices.length > 0 ? await byAttributes(tree, places) : null);
  if (!found) return null;
  const inside = places.slice(places.indexOf(found.entry));
  const hops = await hopsIn(tree, inside);
  const own = found.domain ? devices.filter(({ domain }) => domain === found.domain) : devices;
  return { entry: found.entry, hops: new Set(hops), nodes: chainOf(tree, own, hops.length) };
}

interface Entry {
  entry: string;
  /** Number of the controller's domain, where that is known. */
  domain: string | null;
}

interface Controller {
  name: string;
  /** ".../0000:00:0d.2/domain0" */
  at: string | null;
}

const numberOf = ({ name }: Controller) => name.replace("domain", "");
const above = (at: string) => at.split("/").slice(0, -1).join("/");

async function byPlacement(tree: SystemTree, places: readonly string[]): Promise<Entry | null> {
  for (const place of places) {
    if ((await tree.read(`${place}/removable`)) === "removable") {
      return { entry: place, domain: null };
    }
  }
  return null;
}

/** A port that tunnels depends on its controller (ABI: sysfs-devices-supplier; thunderbolt/acpi.c). */
async function bySupplier(
  tree: SystemTree,
  places: readonly string[],
  controllers: readonly Controller[],
): Promise<Entry | null> {
  for (const [i, place] of places.entries()) {
    const entry = places[i + 1];
    if (!entry) return null;
    for (const controller of controllers) {
      const address = controller.at && above(controller.at).split("/").at(-1);
      if (address && (await tree.has(`${place}/supplier:pci:${address}`))) {
        return { entry, domain: numberOf(controller) };
      }
    }
  }
  return null;
}

/**
 * A controller on a card or board of its own stands below one port of a switch; the other ports of
 * that switch are where tunnels come out, and what stands at their ends is outside.
 */
function bySwitch(places: readonly string[], controllers: readonly Controller[]): Entry | null {
  for (const controller of controllers) {
    if (!controller.at) continue;
    const port = above(above(controller.at));
    const upstream = above(port);
    if (!PCI_ADDRESS.test(port) || !PCI_ADDRESS.test(upstream)) continue;
    const i = places.indexOf(upstream);
    const entry = places[i + 2];
    // Directly at such a port stands what the controller has itself, its USB host; behind is a switch.
    if (i >= 0 && entry && places[i + 1] !== port && places[i + 3]) {
      return { entry, domain: numberOf(controller) };
    }
  }
  return null;
}

async function byAttributes(tree: SystemTree, places: readonly string[]): Promise<Entry | null> {
  for (const place of places) {
    if (isLowerEnd(place) && (await looksTunnelled(tree, place))) {
      tree.miss(
        "where the tunnel begins",
        `${place}/max_link_speed`,
        "the system does not say; concluded from a bridge of 2.5 GT/s and four lanes at most, as tunnels show them",
      );
      return { entry: place, domain: null };
    }
  }
  return null;
}

/** Whether a PCI device is a bridge with the link attributes that every tunnel shows. */
async function looksTunnelled(tree: SystemTree, at: string): Promise<boolean> {
  const [code, speed, width] = await Promise.all(
    ["class", "max_link_speed", "max_link_width"].map((file) => tree.read(`${at}/${file}`)),
  );
  return code?.startsWith("0x0604") === true && parseFloat(speed ?? "") === 2.5 && width === "4";
}

/** The PCI devices inside whose link upwards is a hop of the tunnel: the first, and others like it. */
async function hopsIn(tree: SystemTree, inside: readonly string[]): Promise<string[]> {
  const ends = inside.filter((place) => isLowerEnd(place));
  const hops = ends.slice(0, 1);
  for (const place of ends.slice(1)) {
    if (!(await looksTunnelled(tree, place))) break;
    hops.push(place);
  }
  return hops;
}

/**
 * The devices that a tunnel of some hops runs through. Which of several at the same distance it ends
 * at the kernel does not say; their links can still be known where they all run alike.
 */
function chainOf(tree: SystemTree, devices: readonly Device[], hops: number): SeenNode[] {
  const depth = ({ route }: Device) => Math.ceil(route.length / DIGITS);
  const deepest = Math.max(0, ...devices.map(depth).filter((d) => d <= Math.max(1, hops)));
  const last = devices.filter((device) => depth(device) === deepest);
  if (last.length === 0) {
    tree.miss(
      "Thunderbolt device",
      BUS,
      "the system lists none that the drive could be reached through",
    );
    return [];
  }
  const chains = last.map((device) =>
    Array.from({ length: deepest }, (_, i) => {
      const route = plain(device.route.slice(-DIGITS * (i + 1)));
      return devices.find((one) => one.domain === device.domain && plain(one.route) === route);
    }),
  );
  return Array.from({ length: deepest }, (_, i): SeenNode[] => {
    const here = chains.flatMap((chain) => chain[i]?.node ?? []);
    const unique = here.filter((node, k) => here.findIndex(({ at }) => at === node.at) === k);
    return unique.length > 0 ? [oneOf(tree, unique)] : [];
  }).flat();
}

const plain = (route: string) => route.replace(/^0+/, "");

/** Several devices of which one is meant: their link where it is the same for all. */
function oneOf(tree: SystemTree, nodes: readonly SeenNode[]): SeenNode {
  const [first] = nodes as [SeenNode];
  if (nodes.length === 1) return first;
  const names = nodes.map(({ name }) => name);
  const why = `there are several (${names.join(", ")}) and the system does not say which one holds the drive`;
  tree.miss("Thunderbolt device", BUS, why);
  const same = nodes.every(({ link }) => link?.now === first.link?.now);
  return {
    ...blankNode("thunderbolt", `one of ${names.join(", ")}`, above(first.at)),
    link: same ? first.link : null,
    facts: nodes.flatMap(({ facts }) => facts.filter(({ what }) => what === "name")),
  };
}

/** The devices there are, host routers and those that were not let in left out. */
async function readDevices(tree: SystemTree, names: readonly string[]): Promise<Device[]> {
  const devices: Device[] = [];
  for (const name of names) {
    const [, domain, route] = /^(\d+)-([1-9a-f][\da-f]*)$/.exec(name) ?? [];
    if (!domain || !route) continue;
    const at = (await tree.real(`${BUS}/${name}`)) ?? `${BUS}/${name}`;
    if ((await tree.read(`${at}/authorized`)) === "0") continue;
    devices.push({ domain, route, node: await readDevice(tree, at) });
  }
  return devices;
}

async function readDevice(tree: SystemTree, at: string): Promise<SeenNode> {
  const attribute = (file: string) => tree.read(`${at}/${file}`);
  const maker = await attribute("vendor_name");
  const model = await attribute("device_name");
  const generation = await attribute("generation");
  const [speed, rx, tx] = await Promise.all(["rx_speed", "rx_lanes", "tx_lanes"].map(attribute));
  const node = blankNode("thunderbolt", model ?? "Thunderbolt device", at);
  if (speed && rx) {
    const both = tx && tx !== rx ? `${rx} lanes to the device and ${tx} from it` : lanes(rx);
    node.link = {
      mode: generation ? tunnelMode(generation, speed, rx, tx ?? rx) : null,
      now: `${both} of ${speed}`,
      mostMode: null,
      most: null,
      from: [`${at}/rx_speed`, `${at}/rx_lanes`, ...(tx ? [`${at}/tx_lanes`] : [])],
    };
  } else {
    tree.miss("speed of a Thunderbolt link", `${at}/rx_speed`, "the system does not say");
  }
  return {
    ...node,
    maker,
    model,
    serial: await attribute("unique_id"),
    facts: [
      ...(await tree.fact("name", `${at}/device_name`)),
      ...(await tree.fact("generation", `${at}/generation`)),
      ...(await tree.fact("sending", `${at}/tx_speed`)),
      ...(await tree.fact("sending lanes", `${at}/tx_lanes`)),
      ...(await tree.fact("authorized", `${at}/authorized`)),
    ],
  };
}

const lanes = (count: string) => `${count} ${count === "1" ? "lane" : "lanes"}`;
