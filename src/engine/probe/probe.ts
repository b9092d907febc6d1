import fs from "node:fs/promises";
import path from "node:path";
import { findingsOf } from "@/core/system/findings";
import type { SeenWay, SystemReport } from "@/core/system/system-report";
import { answering } from "../target/answering";
import { deviceNumber } from "../target/device";
import { mountOf, parseMountLine, type Mount } from "../target/mount";
import { Refusal } from "../refusal";
import { btrfsOver } from "./btrfs";
import { blocksBelow, mountedNumber, numberOf, type Block } from "./blocks";
import { shareOf, wayToShare } from "./network";
import { SystemTree } from "./tree";
import { readCables } from "./typec";
import { wayTo } from "./way";

const MOUNTS = "/proc/self/mountinfo";

/**
 * From a directory or block device to the chain that the operating system knows. It only reads the
 * kernel's own files; nothing is opened on the drive itself.
 *
 * @param target absolute path
 * @param root where the kernel's tree is: "/" for this machine, or a directory that stands in for it
 * @throws Refusal where there is no such directory or device
 */
export async function probe(target: string, root = "/"): Promise<SystemReport> {
  const tree = new SystemTree(root);
  if (!(await tree.has("/sys"))) {
    const where = root === "/" ? "this system" : root;
    throw new Refusal("unsupported", `There is no /sys below ${where}: nothing to read from.`);
  }
  if (root === "/") await answering(target);
  const mounts = ((await tree.read(MOUNTS)) ?? "")
    .split("\n")
    .flatMap((line) => parseMountLine(line) ?? []);
  const found = await locate(tree, target, mounts);
  const over =
    found.number && found.mount?.type === "btrfs" ? await btrfsOver(tree, found.number) : null;
  const numbers = over?.numbers ?? (found.number ? [found.number] : []);
  const blocks = await blocksBelow(tree, numbers, mounts);
  const ways = await waysTo(tree, blocks, found.mount);
  const raid = blocks.find(({ kind }) => kind === "raid");
  const level = raid?.facts.find(({ what }) => what === "RAID level");
  const report: SystemReport = {
    format: "nerrit-system",
    version: 1,
    path: found.path,
    root,
    kind: found.mount ? "directory" : "device",
    mount: found.mount && {
      point: found.mount.point,
      type: found.mount.type,
      options: found.mount.options,
      source: found.mount.source,
      from: MOUNTS,
    },
    blocks: blocks.map(({ at: _, ...block }) => block),
    ways,
    cables: await readCables(tree, ways),
    raid: level ? { level: level.value, from: level.from } : (over?.raid ?? null),
    findings: [],
    gaps: tree.gaps,
  };
  return { ...report, findings: findingsOf(report) };
}

interface Located {
  path: string;
  number: string | null;
  mount: Mount | null;
}

/** What a path is, and the block device below it. */
async function locate(
  tree: SystemTree,
  target: string,
  mounts: readonly Mount[],
): Promise<Located> {
  if (target.startsWith("/dev/") && !(await isDirectory(tree, target))) {
    const number = await numberOf(tree, target);
    if (number) return { path: target, number, mount: null };
    if (tree.root !== "/") {
      throw new Refusal("no-such-target", `${target} is no block device below ${tree.root}.`);
    }
  }
  const real = tree.root === "/" ? await realTarget(target) : { path: target, rdev: null };
  if (real.rdev !== null) return { path: real.path, number: deviceNumber(real.rdev), mount: null };
  const mount = mountOf(real.path, mounts);
  if (!mount) {
    throw new Refusal("no-such-target", `${real.path} lies on no file system that is mounted.`);
  }
  const number = await mountedNumber(tree, mount);
  if (!number && !shareOf(mount)) {
    const why = `${mount.type} keeps ${mount.point} on no block device of its own`;
    tree.miss("block device", MOUNTS, why);
  }
  return { path: real.path, number, mount };
}

const isDirectory = async (tree: SystemTree, target: string) =>
  fs.stat(path.join(/* turbopackIgnore: true */ tree.root, target)).then(
    (stat) => stat.isDirectory(),
    () => false,
  );

async function realTarget(target: string): Promise<{ path: string; rdev: number | null }> {
  try {
    const real = await fs.realpath(target);
    const stat = await fs.stat(real);
    return { path: real, rdev: stat.isBlockDevice() ? stat.rdev : null };
  } catch {
    throw new Refusal(
      "no-such-target",
      `There is no ${target}. Check the path, and that the drive is mounted.`,
    );
  }
}

/** The way to each disk at the bottom, or over the network where there is none. */
async function waysTo(
  tree: SystemTree,
  blocks: readonly Block[],
  mount: Mount | null,
): Promise<SeenWay[]> {
  if (blocks.length === 0) {
    const share = mount && (await wayToShare(tree, mount));
    return share ? [share] : [];
  }
  const disks = blocks.filter(({ kind }) => kind === "disk");
  return Promise.all(disks.map((disk) => wayTo(tree, disk)));
}
