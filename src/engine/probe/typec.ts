import { readCableChip } from "@/core/system/cable-chip";
import type { SeenCable, SeenNode, SeenWay } from "@/core/system/system-report";
import type { SystemTree } from "./tree";

const CLASS = "/sys/class/typec";

/**
 * The cables with a chip that the system sees in its USB-C sockets (Documentation/ABI/testing/
 * sysfs-class-typec), each with the device that hangs on it where the firmware tells: a USB socket's
 * `connector` leads to the USB-C port it belongs to (ABI/testing/sysfs-bus-usb).
 */
export async function readCables(tree: SystemTree, ways: readonly SeenWay[]): Promise<SeenCable[]> {
  const ports = (await tree.list(CLASS)).filter((name) => /^port\d+$/.test(name));
  const found: SeenCable[] = [];
  for (const port of ports) {
    const cable = `${CLASS}/${port}-cable`;
    if (!(await tree.has(cable))) continue;
    const word = async (name: string) => {
      const text = await tree.read(`${cable}/identity/${name}`);
      return text ? Number(text) >>> 0 : 0;
    };
    const [idHeader, vdo1, vdo2] = [
      await word("id_header"),
      await word("product_type_vdo1"),
      await word("product_type_vdo2"),
    ];
    const type = await tree.read(`${cable}/type`);
    found.push({
      port,
      at: cable,
      type,
      plug: await tree.read(`${cable}/plug_type`),
      chip: readCableChip({
        type,
        revision: await tree.read(`${cable}/usb_power_delivery_revision`),
        idHeader,
        vdo1,
        vdo2,
      }),
      holds: null,
    });
  }
  if (found.length > 0) await placeThem(tree, ways, found);
  return found;
}

/** Finds out which of a way's devices each cable leads to. */
async function placeThem(tree: SystemTree, ways: readonly SeenWay[], cables: SeenCable[]) {
  for (const { at, kind } of ways.flatMap(({ nodes }) => nodes)) {
    const socket = socketOf(kind, at);
    const connector = socket && (await tree.real(`${socket}/connector`));
    const cable = cables.find(({ port }) => port === connector?.split("/").at(-1));
    if (cable) cable.holds ??= at;
  }
}

/** The socket that a device hangs on: of USB its port, of a tunnel's first device the host's USB4 port. */
function socketOf(kind: SeenNode["kind"], at: string): string | null {
  if (kind === "usb-hub" || kind === "usb-device") return `${at}/port`;
  // ".../0-0/0-1" is reached through port 1 of the host's own router, "0-0".
  const route = /^(.*\/\d+-0)\/\d+-([0-9a-f]+)$/.exec(at);
  if (kind !== "thunderbolt" || !route) return null;
  return `${route[1]}/usb4_port${parseInt(route[2]!, 16) & 0xff}`;
}
