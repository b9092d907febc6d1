import path from "node:path";
import type { Fact, SeenBlock } from "@/core/system/system-report";
import { mountOf, type Mount } from "../target/mount";
import type { SystemTree } from "./tree";

/** The unit of the kernel's sizes, whatever the device's own sector (Documentation/block/stat.rst). */
const SECTOR = 512;

/** More layers than any sensible stack has; a circle ends here. */
const DEEPEST = 12;

/** A block device with the directory that describes it, before it is reported. */
export interface Block extends SeenBlock {
  /** Its directory below /sys/devices. */
  at: string;
}

/**
 * The block devices from some down to the disks they lie on: through partitions, loop devices, device
 * mapper and software RAID.
 *
 * @param numbers MAJOR:MINOR of the uppermost; several where a file system lies on several
 * @param mounts to find what lies below a loop device's backing file
 */
export async function blocksBelow(
  tree: SystemTree,
  numbers: readonly string[],
  mounts: readonly Mount[],
): Promise<Block[]> {
  const found = new Map<string, Block>();
  for (const number of numbers) await descend(tree, number, mounts, found, 0);
  return [...found.values()];
}

async function descend(
  tree: SystemTree,
  number: string,
  mounts: readonly Mount[],
  found: Map<string, Block>,
  depth: number,
): Promise<string | null> {
  const at = await tree.real(`/sys/dev/block/${number}`);
  if (!at) {
    tree.miss(`block device ${number}`, `/sys/dev/block/${number}`, "the system does not list it");
    return null;
  }
  const name = path.basename(at);
  if (found.has(name) || depth > DEEPEST) return name;
  const size = await tree.read(`${at}/size`);
  if (size === "") tree.miss(`size of ${name}`, `${at}/size`, "the file is empty");
  const block: Block = {
    name,
    number,
    kind: await kindOf(tree, at, name),
    bytes: size ? Number(size) * SECTOR : null,
    over: [],
    facts: [
      ...(await tree.fact("size in units of 512 B", `${at}/size`)),
      ...(await queueFacts(tree, at)),
    ],
    at,
  };
  found.set(name, block);
  for (const below of await numbersBelow(tree, block, mounts)) {
    const lower = await descend(tree, below, mounts, found, depth + 1);
    if (lower && lower !== name) block.over.push(lower);
  }
  return name;
}

async function kindOf(tree: SystemTree, at: string, name: string): Promise<Block["kind"]> {
  if (await tree.has(`${at}/partition`)) return "partition";
  if (await tree.has(`${at}/loop`)) return "loop";
  if (await tree.has(`${at}/dm`)) return "device-mapper";
  if (await tree.has(`${at}/md`)) return "raid";
  return /^(zram|ram|pmem)\d/.test(name) ? "memory" : "disk";
}

/** What a block device lies on, by number. */
async function numbersBelow(
  tree: SystemTree,
  block: Block,
  mounts: readonly Mount[],
): Promise<string[]> {
  const { at, kind } = block;
  if (kind === "partition") {
    const disk = await tree.read(`${at}/../dev`);
    if (disk) return [disk];
    tree.miss(
      `disk of ${block.name}`,
      `${at}/../dev`,
      "it cannot be read, so the way to it is not known",
    );
    return [];
  }
  if (kind === "loop") return backing(tree, block, mounts);
  const numbers: string[] = [];
  for (const slave of await tree.list(`${at}/slaves`)) {
    const number = await tree.read(`${at}/slaves/${slave}/dev`);
    if (number) numbers.push(number);
    else tree.miss(slave, `${at}/slaves/${slave}`, "what it lies on cannot be read");
  }
  if (kind === "raid") block.facts.push(...(await raidFacts(tree, at)));
  if (kind === "device-mapper") block.facts.push(...(await mappedFacts(tree, at)));
  return numbers;
}

async function backing(
  tree: SystemTree,
  block: Block,
  mounts: readonly Mount[],
): Promise<string[]> {
  const from = `${block.at}/loop/backing_file`;
  const file = await tree.read(from);
  if (!file) return [];
  block.facts.push({ what: "backing file", value: file, from });
  const mount = mountOf(file, mounts);
  const number = mount && (await mountedNumber(tree, mount));
  if (!number) tree.miss("below the backing file", from, `${file} is on no block device`);
  return number ? [number] : [];
}

/** The block device of a mount: its own number, or for file systems that hide it, its source's. */
export async function mountedNumber(tree: SystemTree, mount: Mount): Promise<string | null> {
  if (await tree.has(`/sys/dev/block/${mount.number}`)) return mount.number;
  if (!mount.source.startsWith("/dev/")) return null;
  return numberOf(tree, mount.source);
}

/** The number of a device by its path, as the kernel names it or by a link in /dev. */
export async function numberOf(tree: SystemTree, device: string): Promise<string | null> {
  const real = (await tree.real(device)) ?? device;
  const name = path.basename(real).replaceAll("/", "!");
  const byName = await tree.read(`/sys/class/block/${name}/dev`);
  if (byName) return byName;
  // /dev/mapper/NAME is a node of its own on some systems: find it by the mapper's name.
  for (const candidate of await tree.list("/sys/class/block")) {
    if (!candidate.startsWith("dm-")) continue;
    if ((await tree.read(`/sys/class/block/${candidate}/dm/name`)) === path.basename(device)) {
      return tree.read(`/sys/class/block/${candidate}/dev`);
    }
  }
  return null;
}

/** What makes a mapped volume, by the beginning of its UUID (ABI: sysfs-block-dm; "CRYPT-LUKS2-..."). */
const MAPPED: [RegExp, string][] = [
  [/^LVM-/, "logical volume"],
  [/^CRYPT-/, "encrypted volume"],
  [/^mpath-/, "several paths to one disk"],
  [/^part\d+-/, "partition"],
  [/^DMRAID-/, "RAID of the firmware"],
];

async function mappedFacts(tree: SystemTree, at: string): Promise<Fact[]> {
  const uuid = await tree.read(`${at}/dm/uuid`);
  const kind = MAPPED.find(([sign]) => uuid && sign.test(uuid))?.[1];
  return [
    ...(await tree.fact("name", `${at}/dm/name`)),
    ...(kind ? [{ what: "kind of volume", value: kind, from: `${at}/dm/uuid` }] : []),
  ];
}

const raidFacts = async (tree: SystemTree, at: string): Promise<Fact[]> => [
  ...(await tree.fact("RAID level", `${at}/md/level`)),
  ...(await tree.fact("members", `${at}/md/raid_disks`)),
  ...(await tree.fact("state", `${at}/md/array_state`)),
  ...(await tree.fact("members missing", `${at}/md/degraded`)),
  ...(await tree.fact("chunk", `${at}/md/chunk_size`, "B")),
];

/** How the system queues requests to a device (Documentation/ABI/stable/sysfs-block). */
async function queueFacts(tree: SystemTree, at: string): Promise<Fact[]> {
  const queue = `${at}/queue`;
  const facts = [
    await tree.fact("scheduler", `${queue}/scheduler`),
    await tree.fact("write cache", `${queue}/write_cache`),
    await tree.fact("largest request", `${queue}/max_sectors_kb`, "KiB"),
    await tree.fact("largest request of the hardware", `${queue}/max_hw_sectors_kb`, "KiB"),
    await tree.fact("requests queued", `${queue}/nr_requests`),
    await tree.fact("logical block", `${queue}/logical_block_size`, "B"),
    await tree.fact("physical block", `${queue}/physical_block_size`, "B"),
    await tree.fact("rotational", `${queue}/rotational`),
  ].flat();
  return facts.map((fact) =>
    fact.what === "scheduler"
      ? { ...fact, value: /\[(.+)\]/.exec(fact.value)?.[1] ?? fact.value }
      : fact,
  );
}
