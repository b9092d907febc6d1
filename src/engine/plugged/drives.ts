import path from "node:path";
import type { DrivePlace, SeenDrive } from "@/core/system/drive";
import type { SeenWay } from "@/core/system/system-report";
import { mountOf, parseMountLine, type Mount } from "../target/mount";
import { blocksBelow, mountedNumber, type Block } from "../probe/blocks";
import { shareOf, wayToShare } from "../probe/network";
import { SystemTree } from "../probe/tree";
import { wayTo } from "../probe/way";

const BLOCKS = "/sys/class/block";
const MOUNTS = "/proc/self/mountinfo";
const SECTOR = 512;

/**
 * The drives that the system has, and what is mounted over the network. Only what the kernel holds in
 * memory is read; nothing is asked of a drive, so none that sleeps is woken.
 *
 * @param root where the kernel's tree is: "/" for this machine, or a directory that stands in for it
 */
export async function listDrives(root = "/"): Promise<SeenDrive[]> {
  const tree = new SystemTree(root, { quiet: true });
  const mounts = await readMounts(tree);
  const names = await tree.list(BLOCKS);
  const devices = (await Promise.all(names.map((name) => readDevice(tree, name)))).flat();
  const whole = devices.filter(({ partition }) => !partition);
  const systemNames = await below(tree, mountOf("/", mounts), mounts);
  const mounted = await mountsByNumber(tree, mounts);
  const drives = await Promise.all(
    whole.map((device) =>
      describe(
        tree,
        device,
        devices.filter(({ name, of }) => name === device.name || of === device.name),
        { mounts, mounted, systemNames },
      ),
    ),
  );
  const shares = await Promise.all(
    mounts.filter((mount) => shareOf(mount)).map((mount) => describeShare(tree, mount)),
  );
  return [...drives, ...shares].sort(inOrder);
}

const readMounts = async (tree: SystemTree): Promise<Mount[]> =>
  ((await tree.read(MOUNTS)) ?? "").split("\n").flatMap((line) => parseMountLine(line) ?? []);

/**
 * What changes when something is plugged in, taken out, mounted or linked anew; equal texts, equal
 * lists. Reading it costs the kernel a few names and numbers that it has in memory.
 */
export async function pluggedState(root = "/"): Promise<string> {
  const tree = new SystemTree(root, { quiet: true });
  const names = await tree.list(BLOCKS);
  const sizes = await Promise.all(names.map((name) => tree.read(`${BLOCKS}/${name}/size`)));
  return JSON.stringify([
    names.map((name, i) => `${name} ${sizes[i]}`),
    (await tree.read(MOUNTS)) ?? "",
    await tree.list("/sys/bus/usb/devices"),
    await tree.list("/sys/bus/thunderbolt/devices"),
    await tree.list("/sys/class/typec"),
  ]);
}

/** The most likely to be measured first: what is plugged in, then shares, files and memory. */
const ORDER: SeenDrive["kind"][] = ["disk", "raid", "volume", "share", "loop", "memory"];
const inOrder = (a: SeenDrive, b: SeenDrive) =>
  Number(a.system) - Number(b.system) ||
  ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) ||
  a.id.localeCompare(b.id, "en", { numeric: true });

interface Device {
  name: string;
  number: string;
  bytes: number;
  partition: boolean;
  /** Of a partition, the whole device. */
  of: string | null;
  at: string;
}

/** One block device; nothing where it holds nothing, as a loop device without a file. */
async function readDevice(tree: SystemTree, name: string): Promise<Device[]> {
  const at = await tree.real(`${BLOCKS}/${name}`);
  const [number, sectors] = await Promise.all([
    tree.read(`${BLOCKS}/${name}/dev`),
    tree.read(`${BLOCKS}/${name}/size`),
  ]);
  const bytes = Number(sectors ?? 0) * SECTOR;
  if (!at || !number || !(bytes > 0)) return [];
  const partition = await tree.has(`${at}/partition`);
  return [
    { name, number, bytes, partition, of: partition ? path.basename(path.dirname(at)) : null, at },
  ];
}

/** Names of all block devices that a mount lies on. */
async function below(
  tree: SystemTree,
  mount: Mount | null,
  mounts: readonly Mount[],
): Promise<Set<string>> {
  const number = mount && (await mountedNumber(tree, mount));
  const blocks = number ? await blocksBelow(tree, [number], mounts) : [];
  return new Set(blocks.map(({ name }) => name));
}

/** A device's first mount is where a tester would look for it. */
async function mountsByNumber(
  tree: SystemTree,
  mounts: readonly Mount[],
): Promise<Map<string, Mount>> {
  const found = new Map<string, Mount>();
  for (const mount of mounts) {
    const number = await mountedNumber(tree, mount);
    if (number && !found.has(number)) found.set(number, mount);
  }
  return found;
}

async function describe(
  tree: SystemTree,
  device: Device,
  parts: readonly Device[],
  {
    mounts,
    mounted,
    systemNames,
  }: {
    mounts: readonly Mount[];
    mounted: ReadonlyMap<string, Mount>;
    systemNames: ReadonlySet<string>;
  },
): Promise<SeenDrive> {
  const { name, at, bytes } = device;
  const blocks = await blocksBelow(tree, [device.number], mounts);
  const own = blocks.find((block) => block.name === name);
  const kind = KINDS[own?.kind ?? "disk"] ?? "disk";
  const way = own && kind === "disk" ? await wayTo(tree, own) : null;
  const last = way?.nodes.at(-1);
  const readOnly = (await tree.read(`${at}/ro`)) === "1";
  return {
    id: name,
    kind,
    name: nameOf(own, last?.name ?? null, name),
    maker: last?.maker ?? null,
    model: last?.model ?? null,
    serial: last?.serial ?? null,
    serials: way?.nodes.flatMap(({ serial }) => serial ?? []) ?? [],
    bytes,
    hangsOn: hangsOn(way, own),
    link: linkOf(way),
    rotational: kind === "disk" ? rotationalOf(own) : null,
    removable: (await tree.read(`${at}/removable`)) === "1",
    readOnly,
    system: systemNames.has(name),
    heldBy: (await Promise.all(parts.map((part) => tree.list(`${part.at}/holders`)))).flat(),
    places: placesOf(parts, mounted, readOnly),
  };
}

const KINDS: Partial<Record<Block["kind"], SeenDrive["kind"]>> = {
  loop: "loop",
  memory: "memory",
  raid: "raid",
  "device-mapper": "volume",
};

const said = (block: Block | undefined, what: string) =>
  block?.facts.find((fact) => fact.what === what)?.value;

const rotationalOf = (own: Block | undefined) => {
  const value = said(own, "rotational");
  return value === undefined ? null : value === "1";
};

const nameOf = (own: Block | undefined, last: string | null, name: string): string =>
  said(own, "backing file") ?? said(own, "name") ?? last ?? name;

/** Mounted places first; a device whose partitions are mounted is no place of its own. */
function placesOf(
  parts: readonly Device[],
  mounted: ReadonlyMap<string, Mount>,
  readOnly: boolean,
): DrivePlace[] {
  const places = parts.map(({ name, number, bytes }): DrivePlace => {
    const mount = mounted.get(number);
    return {
      device: `/dev/${name.replaceAll("!", "/")}`,
      point: mount?.point ?? null,
      fileSystem: mount?.type ?? null,
      bytes,
      readOnly: readOnly || (mount?.options.split(",").includes("ro") ?? false),
    };
  });
  return places.sort((a, b) => Number(b.point !== null) - Number(a.point !== null));
}

/** What a drive hangs on, nearest first. */
function hangsOn(way: SeenWay | null, own: Block | undefined): string {
  if (!way) return own && own.over.length > 0 ? own.over.join(", ") : "";
  const nodes = way.nodes.slice(0, -1).filter(({ kind }) => kind !== "pcie-port");
  return nodes
    .toReversed()
    .map(({ name }) => name)
    .join(", ");
}

/** The narrowest thing the system says is its own link: the last one on the way that is one. */
function linkOf(way: SeenWay | null): SeenDrive["link"] {
  const node = way?.nodes.findLast(({ link, kind }) => link && kind !== "pci-controller");
  return node?.link ? { mode: node.link.mode, now: node.link.now } : null;
}

async function describeShare(tree: SystemTree, mount: Mount): Promise<SeenDrive> {
  const way = await wayToShare(tree, mount);
  const net = way?.nodes.find(({ kind }) => kind === "network-interface");
  return {
    id: mount.point,
    kind: "share",
    name: mount.source,
    maker: null,
    model: null,
    serial: null,
    serials: [],
    bytes: null,
    hangsOn: net?.name ?? "",
    link: net?.link ? { mode: net.link.mode, now: net.link.now } : null,
    rotational: null,
    removable: false,
    readOnly: mount.options.split(",").includes("ro"),
    system: false,
    heldBy: [],
    places: [
      {
        device: mount.source,
        point: mount.point,
        fileSystem: mount.type,
        bytes: null,
        readOnly: mount.options.split(",").includes("ro"),
      },
    ],
  };
}
