import type { SystemReport } from "@/core/system/system-report";
import type { SystemTree } from "./tree";

const FILE_SYSTEMS = "/sys/fs/btrfs";

/** The block devices of a btrfs over several, and how it spreads data over them. */
export interface Btrfs {
  /** MAJOR:MINOR of each. */
  numbers: string[];
  raid: SystemReport["raid"];
}

/**
 * Finds the devices of the btrfs that holds a block device (/sys/fs/btrfs/UUID/devices links to each,
 * allocation/data has a directory named after the profile; fs/btrfs/sysfs.c).
 *
 * @param number MAJOR:MINOR of the device that the mount table names
 * @returns null where there is no such file system, or it has one device only
 */
export async function btrfsOver(tree: SystemTree, number: string): Promise<Btrfs | null> {
  for (const uuid of await tree.list(FILE_SYSTEMS)) {
    const folder = `${FILE_SYSTEMS}/${uuid}`;
    const numbers: string[] = [];
    for (const name of await tree.list(`${folder}/devices`)) {
      const own = await tree.read(`${folder}/devices/${name}/dev`);
      if (own) numbers.push(own);
      else tree.miss(name, `${folder}/devices/${name}`, "its number cannot be read");
    }
    if (!numbers.includes(number) || numbers.length < 2) continue;
    return { numbers, raid: await profileOf(tree, `${folder}/allocation/data`) };
  }
  return null;
}

/** Profiles as directories beside the plain counters of the same level. */
const PROFILES = /^(single|dup|raid\w+)$/;

async function profileOf(tree: SystemTree, folder: string): Promise<SystemReport["raid"]> {
  const [level] = (await tree.list(folder)).filter((name) => PROFILES.test(name));
  return level ? { level, from: `${folder}/${level}` } : null;
}
