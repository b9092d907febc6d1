import { usbMode } from "@/core/system/modes";
import type { Fact, SeenNode } from "@/core/system/system-report";
import { canSuperSpeed } from "./bos";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** A USB device, hub or root hub (Documentation/ABI/testing/sysfs-bus-usb, stable/sysfs-bus-usb). */
export async function readUsb(tree: SystemTree, at: string): Promise<SeenNode> {
  const root = /\/usb\d+$/.test(at);
  const hub = (await tree.read(`${at}/bDeviceClass`)) === "09";
  const attribute = (file: string) => tree.read(`${at}/${file}`);
  const speed = await attribute("speed");
  const lanes = await attribute("rx_lanes");
  const product = await attribute("product");
  const kind = root ? "usb-root" : hub ? "usb-hub" : "usb-device";
  const node = blankNode(kind, product ?? (hub ? "USB hub" : "USB device"), at);
  const rate = speed
    ? {
        mode: usbMode(speed, lanes ?? "1"),
        words: `${speed} Mb/s${lanes === "2" ? ", two lanes" : ""}`,
      }
    : null;
  if (!speed) tree.miss("speed of a USB device", `${at}/speed`, "the system does not say");
  // Several of the same product are told apart by their serial numbers; a root hub's is an address.
  node.maker = root ? null : await attribute("manufacturer");
  node.model = root ? null : product;
  node.serial = root ? null : await attribute("serial");
  if (rate && !root) {
    node.link = {
      mode: rate.mode,
      now: rate.words,
      mostMode: null,
      most: null,
      from: [`${at}/speed`],
    };
  }
  if (rate && root) {
    node.facts.push({ what: "speed of this root hub", value: rate.words, from: `${at}/speed` });
  }
  node.facts.push(
    ...(await tree.fact("USB version of the device", `${at}/version`)),
    ...(await tree.fact("product", `${at}/product`)),
    ...(await tree.fact("maker", `${at}/manufacturer`)),
    ...(await tree.fact("serial number", `${at}/serial`)),
    ...(await tree.fact("sockets", `${at}/maxchild`)),
    ...(await tree.fact("power asked for", `${at}/bMaxPower`)),
    ...(await superSpeed(tree, at)),
    ...(await otherHalves(tree, at)),
    ...(await neighbours(tree, at, hub)),
  );
  const bound = hub ? [] : await storageDriver(tree, at);
  node.driver = bound[0]?.value ?? null;
  node.facts.push(...bound);
  return node;
}

/** Whether the device says that it is made for 5 Gb/s or more, where the kernel keeps its words. */
async function superSpeed(tree: SystemTree, at: string): Promise<Fact[]> {
  const from = `${at}/bos_descriptors`;
  const bytes = await tree.bytes(from);
  const can = bytes && canSuperSpeed(bytes);
  return can === null ? [] : [{ what: "made for USB 3", value: can ? "yes" : "no", from }];
}

/**
 * A socket of USB 3 has two halves on two hubs, and a hub of USB 3 is two devices, one in each half:
 * `port/peer` leads to the other half of the socket, `port/peer/device` to what is plugged in there.
 */
async function otherHalves(tree: SystemTree, at: string): Promise<Fact[]> {
  const peer = await tree.real(`${at}/port/peer`);
  if (!peer) return [];
  // .../usb2/2-0:1.0/usb2-port1 belongs to the hub two directories up.
  const hub = peer.split("/").slice(0, -2).join("/");
  const twin = await tree.real(`${peer}/device`);
  return [
    ...(await tree.fact("other half of its socket", `${hub}/speed`, "Mb/s")),
    ...(twin ? await tree.fact("its other half", `${twin}/speed`, "Mb/s") : []),
  ];
}

/** What else hangs on a hub, sharing its uplink. */
async function neighbours(tree: SystemTree, at: string, hub: boolean): Promise<Fact[]> {
  if (!hub) return [];
  const facts: Fact[] = [];
  for (const name of await tree.list(at)) {
    if (!/^\d+-[\d.]+$/.test(name)) continue;
    const product = (await tree.read(`${at}/${name}/product`)) ?? "a device";
    const speed = await tree.read(`${at}/${name}/speed`);
    facts.push({
      what: "on it",
      value: speed ? `${product} (${speed} Mb/s)` : product,
      from: `${at}/${name}/${speed ? "speed" : "product"}`,
    });
  }
  return facts;
}

/** The driver of a USB device's storage interface: "uas" queues, "usb-storage" does not. */
async function storageDriver(tree: SystemTree, at: string): Promise<Fact[]> {
  for (const name of await tree.list(at)) {
    if (!/:\d+\.\d+$/.test(name)) continue;
    if ((await tree.read(`${at}/${name}/bInterfaceClass`)) !== "08") continue;
    return tree.driver(`${at}/${name}`);
  }
  return [];
}
