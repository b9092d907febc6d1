import fs from "node:fs/promises";
import type { SeenAround } from "@/core/preflight/seen-around";
import type { Fact } from "@/core/system/system-report";
import { probe } from "../probe/probe";
import { SystemTree } from "../probe/tree";
import { Refusal } from "../refusal";
import { deviceNumber, wholeDevice } from "../target/device";
import { targetFacts } from "../target/facts";
import { mountOf, readMounts } from "../target/mount";
import { deviceBelow, isMemory } from "../target/target";
import { lookForBusiness } from "./busy";
import { onBattery, quietFacts } from "./quiet";

/**
 * What a run at a place would meet on this machine; looks for a second.
 *
 * @param place an absolute path
 * @param reserve bytes to leave free; null for the usual
 * @param own where Nerrit's own data lies; null where that is another machine
 * @param root where the kernel's tree is read
 * @throws Refusal where the place does not answer
 */
export async function lookAround(
  place: string,
  reserve: number | null,
  own: string | null,
  root: string,
): Promise<SeenAround> {
  const tree = new SystemTree(root);
  const [facts, report] = await Promise.all([
    targetFacts(place, reserve),
    probe(place, root).catch((error: unknown) => {
      if (error instanceof Refusal) return null;
      throw error;
    }),
  ]);
  const below = facts ? await belowOf(place) : null;
  const device = below?.device ?? null;
  return {
    facts,
    report,
    space: below?.space ?? null,
    memory: below?.memory ?? false,
    shared: {
      system: await sameDevice(device, "/"),
      own: own !== null && (await sameDevice(device, own)),
    },
    busy: await lookForBusiness(device),
    onBattery: await onBattery(tree),
    quiet: report ? await quietFacts(tree, report) : ([] as Fact[]),
  };
}

async function belowOf(place: string) {
  const stat = await fs.stat(place);
  if (stat.isBlockDevice()) {
    return { device: deviceNumber(stat.rdev), space: null, memory: false };
  }
  const mount = mountOf(await fs.realpath(place), await readMounts());
  const { bavail, blocks, bsize } = await fs.statfs(place);
  return {
    device: await deviceBelow(stat.dev, mount),
    space: { free: bavail * bsize, total: blocks * bsize },
    memory: mount !== null && isMemory(mount),
  };
}

/** Whether a path lies on the same physical device. */
async function sameDevice(device: string | null, other: string): Promise<boolean> {
  if (!device) return false;
  try {
    const { dev } = await fs.stat(other);
    const mount = mountOf(await fs.realpath(other), await readMounts());
    const there = await deviceBelow(dev, mount);
    return there !== null && (await wholeDevice(there)) === (await wholeDevice(device));
  } catch {
    return false;
  }
}
