import { usbMode } from "../modes";
import type { SeenNode, SeenWay } from "../system-report";
import { transportOf } from "../transport";
import { linkOf, nodeOf, type PastedDrive } from "./made";
import type { Said } from "./tree";

/**
 * `lsusb -t`, also with `-v` (lsusb(8)): a root hub a line, below it what hangs on it, each with the port,
 * the class, the driver and the speed in Mb/s; newer versions add the lanes ("/x2").
 */

const ROOT =
  /^\/:\s+Bus\s+0*(\d+)\.Port\s+\d+:\s+Dev\s+\d+,\s+Class=root_hub,\s+Driver=[^,]*,\s+([\d.]+)M(?:\/x(\d))?/;
const DEVICE =
  /^(\s*)\|__\s+Port\s+0*(\d+):\s+Dev\s+(\d+),\s+If\s+\d+,\s+Class=([^,]*),\s+Driver=([^,]*),\s+([\d.]+)M(?:\/x(\d))?/;
const NAME = /^\s+ID\s+[\da-f]{4}:[\da-f]{4}\s*(.*)$/i;

interface Device {
  number: string;
  indent: number;
  node: SeenNode;
  above: Device | null;
  /** "Mass Storage". */
  className: string;
  hub: boolean;
}

export const isUsbTree = (text: string): boolean => /^\/:\s+Bus\s+\d+\.Port/m.test(text);

/** The drives in such a text, each with its way from the root hub; where it names none, all devices. */
export function drivesOfUsbTree(text: string): PastedDrive[] {
  const devices: Device[] = [];
  let bus = "";
  let root: Device | null = null;
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    const last = devices.at(-1);
    const named = NAME.exec(line);
    if (named && last && named[1]) last.node.name = named[1];
    const begun = ROOT.exec(line);
    if (begun) {
      bus = begun[1]!;
      root = rootOf(bus, { value: speedWords(begun[2]!, begun[3]), line: i + 1 });
      continue;
    }
    const found = DEVICE.exec(line);
    if (!found || !root) continue;
    const [, spaces, port, number, className, driver, speed, lanes] = found;
    const indent = spaces!.length;
    const same = devices.findLast(
      (one) => one.number === number && one.node.at.startsWith(`${bus}-`),
    );
    if (same && same.indent === indent) {
      // Another interface of the same device: the one that stores is the one that counts.
      if (className === "Mass Storage") setDriver(same, className, driver!);
      continue;
    }
    const above = devices.findLast(
      (one) => one.indent < indent && one.node.at.startsWith(`${bus}-`),
    );
    const at = above ? `${above.node.at}.${port}` : `${bus}-${port}`;
    const hub = className === "Hub";
    const node = nodeOf(hub ? "usb-hub" : "usb-device", hub ? "USB hub" : "USB device", at);
    const said = { value: speedWords(speed!, lanes), line: i + 1 };
    node.link = linkOf(said, usbMode(speed!, lanes ?? "1"));
    const device: Device = {
      number: number!,
      indent,
      node,
      above: above ?? root,
      className: "",
      hub,
    };
    setDriver(device, className!, driver!);
    devices.push(device);
  }
  const stores = devices.filter(({ className }) => className === "Mass Storage");
  const shown = stores.length > 0 ? stores : devices.filter(({ hub }) => !hub);
  return shown.map((device) => ({ way: wayTo(device), disk: null, gaps: [NO_SERIAL] }));
}

const NO_SERIAL = {
  what: "serial number",
  from: "the text",
  why: "lsusb -t tells none: look whether it is the drive that you mean",
};

function rootOf(bus: string, speed: Said): Device {
  const node = nodeOf("usb-root", `USB bus ${bus}`, `usb${bus}`, [
    ["speed of this root hub", speed],
  ]);
  return { number: "", indent: -1, node, above: null, className: "", hub: true };
}

const speedWords = (megabits: string, lanes: string | undefined): string =>
  `${megabits} Mb/s${lanes === "2" ? ", two lanes" : ""}`;

function setDriver(device: Device, className: string, driver: string): void {
  device.className = className;
  device.node.driver = device.hub || driver.trim() === "" ? null : driver.trim();
}

function wayTo(device: Device): SeenWay {
  const nodes: SeenNode[] = [];
  for (let one: Device | null = device; one; one = one.above) nodes.unshift(one.node);
  const { name, at } = device.node;
  return {
    end: `${name} on ${at}`,
    nodes,
    transport: transportOf(nodes),
  };
}
